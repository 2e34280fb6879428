import { usesOf } from './columns';
import { rememberedUses, rememberUses } from './remembered-shapes';

const KEY = 'long-gate intake shapes';
const FIELD = { id: 'fld_1', name: 'Berth', kind: 'text' as const, choices: [], outcome: false };

describe('how columns were taken the last time', () => {
  beforeEach(() => localStorage.removeItem(KEY));
  afterAll(() => localStorage.removeItem(KEY));
  const there = (fields: (typeof FIELD)[]) => new Set(usesOf(fields).map((u) => u.value));

  it('is known again by the headings, whatever their case, and for that business alone', () => {
    rememberUses('biz_1', ['Mobile', 'Dock'], ['phone', 'own:fld_1']);
    expect(rememberedUses('biz_1', ['mobile ', 'DOCK'], there([FIELD]))).toEqual(['phone', 'own:fld_1']);
    expect(rememberedUses('biz_2', ['Mobile', 'Dock'], there([FIELD]))).toBeNull();
    expect(rememberedUses('biz_1', ['Dock', 'Mobile'], there([FIELD]))).toBeNull();
  });

  it('leaves out a field that was taken away', () => {
    rememberUses('biz_1', ['Mobile', 'Dock'], ['phone', 'own:fld_1']);
    expect(rememberedUses('biz_1', ['Mobile', 'Dock'], there([]))).toEqual(['phone', 'ignore']);
  });

  it('is asked anew where the browser holds something else', () => {
    localStorage.setItem(KEY, 'no JSON');
    expect(rememberedUses('biz_1', ['Mobile'], there([]))).toBeNull();
  });
});
