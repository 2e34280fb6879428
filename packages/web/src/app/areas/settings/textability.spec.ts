import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { closePage, openPage, type Asked, type OpenPage } from '../../../testing/open-page';
import { ApiProblem } from '../../api/api';
import { TextabilitySettings } from './textability';

const KEPT = {
  voip: true,
  tollFree: false,
  staleDays: 180,
  staleUnreachableDays: 30,
  automatic: false,
  recheck: false,
  reassignedDays: 30,
  reassignedOnSchedule: false,
  reassignedBeforeDispatch: false,
  paidBy: '',
  payer: '',
  paysFor: [{ id: 'biz_9', name: 'Larch Desk LLC' }],
  version: 2,
};

describe('what counts as textable', () => {
  let p: OpenPage;
  const open = async (role = 'administrator', save?: unknown): Promise<void> => {
    p = await openPage(
      TextabilitySettings,
      {
        'textability.get': KEPT,
        'textability.preview': ({ body }: Asked) => ({
          opens: 0,
          bars: (body as { voip: boolean }).voip ? 0 : 41,
          stale: 7,
          cost: 38_500,
          unasked: 12,
          unaskedCost: 66_000,
        }),
        'textability.end-paying': { done: true },
        'textability.save': save ?? (({ body }: Asked) => ({ ...(body as object), version: 3 })),
      },
      { role },
    );
  };
  afterEach(() => closePage(p));
  const voip = async (): Promise<MatCheckboxHarness> => p.loader.getHarness(MatCheckboxHarness.with({ label: /VoIP/ }));

  it('says before it is saved how many numbers change sides, and saves what was shown', async () => {
    await open();
    expect(p.text()).not.toContain('barred from texts');
    await (await voip()).uncheck();
    await p.settle();
    expect(p.text().replace(/\s+/g, ' ')).toContain('41 numbers are barred from texts');
    await p.press('Save');
    expect(p.api.of('textability.save').map((a) => [a.version, (a.body as { voip: boolean }).voip])).toEqual([
      [2, false],
    ]);
  });

  it('says what asking whether numbers changed hands would cost, and keeps when it is asked', async () => {
    await open();
    await (await p.loader.getHarness(MatCheckboxHarness.with({ label: /Before a dispatch/ }))).check();
    await p.settle();
    expect(p.text().replace(/\s+/g, ' ')).toContain(
      '12 numbers are to be asked about whether they changed hands, which costs 0.07',
    );
    await p.fill('reassigned-days', '45');
    await p.press('Save');
    expect(p.api.of('textability.save').map((a) => a.body)).toEqual([
      jasmine.objectContaining({ reassignedBeforeDispatch: true, reassignedOnSchedule: false, reassignedDays: 45 }),
    ]);
  });

  it('says for whom this business pays, and ends it once that is confirmed', async () => {
    await open();
    expect(p.text().replace(/\s+/g, ' ')).toContain('pays for the lookups and queries of Larch Desk LLC');
    p.yes = false;
    await p.press('Pay no longer…');
    expect(p.api.of('textability.end-paying')).toEqual([]);
    p.yes = true;
    await p.press('Pay no longer…');
    expect(p.api.of('textability.end-paying').map((a) => a.params['id'])).toEqual(['biz_9']);
  });

  it('goes back to as it was', async () => {
    await open();
    await (await voip()).uncheck();
    await p.press('As it was');
    expect(await (await voip()).isChecked()).toBeTrue();
    expect(p.api.of('textability.save')).toEqual([]);
  });

  it('says what is wrong with a number of days, and what the server refuses', async () => {
    await open('administrator', new ApiProblem(412, 'changed-meanwhile', 'Somebody changed it meanwhile.', []));
    await p.fill('stale', '0');
    await p.press('Save').catch(() => undefined);
    expect(p.api.of('textability.save')).toEqual([]);
    await p.fill('stale', '90');
    await p.press('Save');
    expect(p.text()).toContain('Somebody changed it meanwhile.');
  });

  it('is only read by whoever is no administrator', async () => {
    await open('coordinator');
    expect(await (await voip()).isDisabled()).toBeTrue();
    expect(p.text()).toContain('An administrator changes it.');
  });
});
