import { findUse, WANTS, type Want } from './find-use.js';
import { mayHave, useCase } from './terms.data.js';
import { LEGAL_FORMS } from './legal-forms.data.js';

const found = (wants: Want[], over: Partial<Parameters<typeof findUse>[1]> = {}) =>
  findUse(wants, { form: 'private company', few: false, numbers: 1, ...over });

describe('the use that fits what is to be sent', () => {
  it('is one thing’s own, several things’ mixed one, and the cheap one for few texts', () => {
    expect(found(['codes']).useCase).toBe('two-factor');
    expect(found(['notices', 'reminders']).useCase)
      .withContext('both fall under one')
      .toBe('account-notification');
    expect(found(['news', 'notices'])).toEqual(
      jasmine.objectContaining({ useCase: 'mixed', subUses: ['marketing', 'account-notification'] }),
    );
    expect(found(['news', 'notices'], { few: true }).useCase).toBe('low-volume-mixed');
    expect(found(['news'], { few: true }).useCase).toBe('low-volume-mixed');
    expect(found(['codes'], { few: true }).useCase)
      .withContext('no offers in it')
      .toBe('two-factor');
    expect(found([])).toEqual({ useCase: '', subUses: [], why: '' });
    expect(found(['news'], { numbers: 60 }).useCase).toBe('number-pool');
  });

  it('is never one that the legal form may not have, and names two to five where it is mixed', () => {
    const keys = WANTS.map((w) => w.key);
    for (const form of LEGAL_FORMS)
      for (const one of keys)
        for (const other of keys)
          for (const few of [true, false]) {
            const { useCase: code, subUses, why } = found([one, other], { form, few });
            const use = useCase(code);
            const said = `${form}: ${one} and ${other}`;
            expect(why).withContext(said).not.toBe('');
            if (code === '') continue;
            if (!use || !mayHave(use, form)) fail(`${said} gives ${code}`);
            for (const sub of subUses) {
              const named = useCase(sub);
              if (!named || !mayHave(named, form)) fail(`${said} names ${sub}`);
            }
            if (code === 'mixed')
              expect(subUses.length >= 2 && subUses.length <= 5)
                .withContext(said)
                .toBeTrue();
          }
  });

  it('keeps apart what stands alone, and says where one campaign is not enough', () => {
    expect(found(['danger', 'news'], { form: 'public body' })).toEqual(
      jasmine.objectContaining({ useCase: 'emergency' }),
    );
    expect(found(['danger']).why).toContain('not for a private company');
    expect(found(['news', 'notices', 'parcels', 'answers', 'codes', 'surveys']).why).toContain('two campaigns');
    expect(found(['news', 'danger'], { form: 'sole proprietor' }).useCase).toBe('sole-proprietor');
  });
});
