import { ChangeDetectionStrategy, Component } from '@angular/core';
import { EMPTY_CAMPAIGN } from '@long-gate/contracts';
import { closePage, openPage, type Asked, type OpenPage } from '../../../testing/open-page';
import { CampaignPart } from './campaign';
import { DossierStore } from './dossier.store';

@Component({
  selector: 'lg-around',
  imports: [CampaignPart],
  providers: [DossierStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<lg-campaign campaignId="cmp_1" />`,
})
class Around {}

const GOOD = {
  ...EMPTY_CAMPAIGN,
  useCase: 'marketing',
  description: 'Heron Lane sends people who joined its list news about bread and classes, about twice a month.',
  agreement: 'On the page heron.example/join people enter their number and tick a box of its own for news.',
  samples: [
    'Heron Lane: rye is back this Friday. Reply STOP to end.',
    'Heron Lane: the bread class on Saturday has places left. Reply STOP to end.',
  ],
  optInMessage:
    'Heron Lane: you are in, 2 texts a month. Msg & data rates may apply. Reply HELP for help, STOP to end.',
  optOutMessage: 'Heron Lane: you are out and will get no more texts from us.',
  helpMessage: 'Heron Lane: write to office@heron.example.',
  privacyUrl: 'https://heron.example/privacy',
  termsUrl: 'https://heron.example/terms',
};

describe('a campaign on its page', () => {
  let p: OpenPage;
  const open = async (
    over: Partial<typeof GOOD>,
    state = 'draft',
    tries: object[] = [],
    reasons: object[] = [],
  ): Promise<void> => {
    let campaign = {
      id: 'cmp_1',
      name: 'News',
      body: { ...GOOD, ...over },
      state,
      attempt: 0,
      submittedAt: null,
      decidedAt: null,
      reasons,
      findings: [],
      lastSubmitted: state === 'declined' ? { ...GOOD, ...over } : null,
      halt: null as object | null,
      stages: [],
      renewsAt: null as number | null,
      renewalAskedAt: null,
      numbers: [],
      throughput: { campaignPerSecond: 40, brandPerDay: 40_000, numberPerSecond: 10 },
      version: 1,
    };
    p = await openPage(
      Around,
      {
        'registration.get': () => ({
          nameLine: 'Heron Lane',
          accountState: 'open',
          brand: {
            state: 'registered',
            body: { legalName: 'Heron Lane Bakery LLC', form: 'private company', website: 'https://heron.example' },
          },
          campaigns: [campaign],
        }),
        'registration.tries': { items: tries },
        'registration.submitCampaign': () => campaign,
        'registration.saveCampaign': ({ body }: Asked) =>
          (campaign = { ...campaign, ...(body as object), version: campaign.version + 1 }),
      },
      { business: { balance: 100_000_000 } },
    );
    await p.settle();
  };
  afterEach(() => closePage(p));
  const valueOf = (id: string): string => p.host.querySelector<HTMLTextAreaElement>(`#${id}`)?.value ?? '';
  const rest = async (): Promise<void> => {
    await new Promise((r) => setTimeout(r, 800));
    await p.settle();
  };

  it('mends by one click what can be mended so, saves it, and takes it back', async () => {
    const text = 'Rye is back this Friday. Reply STOP to end.';
    await open({ samples: [text, GOOD.samples[1] ?? ''] });
    expect(p.text()).toContain('Submit: 1 to mend');
    await p.press('Mend it');
    expect(valueOf('sample0')).toBe(`Heron Lane: ${text}`);
    expect(p.text()).not.toContain('to mend');
    await rest();
    expect((p.api.of('registration.saveCampaign').at(-1)?.body as { body: typeof GOOD }).body.samples[0]).toBe(
      `Heron Lane: ${text}`,
    );
    p.undo?.();
    await rest();
    expect(valueOf('sample0')).toBe(text);
    expect(p.text()).toContain('Submit: 1 to mend');
  });

  it('takes a mend back no more once somebody wrote there', async () => {
    await open({ optOutMessage: 'You are out and will get no more texts.' });
    await p.press('Mend it');
    const mended = valueOf('optOutMessage');
    await p.fill('optOutMessage', `${mended} Goodbye.`);
    p.undo?.();
    await p.settle();
    expect(valueOf('optOutMessage')).toBe(`${mended} Goodbye.`);
    expect(p.said.at(-1)).toContain('stays as it is');
  });

  it('leaves to its writer what no click can mend, and offers nothing once it is filed', async () => {
    await open({ description: 'Bread.' });
    expect(p.text()).toContain('Submit: 2 to mend');
    expect(p.text()).not.toContain('Mend it');
    closePage(p);
    await open({ optOutMessage: 'You are out and will get no more texts.' }, 'in review');
    expect(p.text()).not.toContain('Mend it');
  });

  it('lets nobody write in what is filed, samples included', async () => {
    for (const state of ['in review', 'registered']) {
      await open({}, state);
      const writable = [...p.host.querySelectorAll<HTMLTextAreaElement>('textarea, form input')].filter(
        (f) => !f.disabled,
      );
      expect(writable.map((f) => f.id))
        .withContext(state)
        .toEqual([]);
      closePage(p);
    }
    await open({}, 'declined');
    expect(p.host.querySelector<HTMLTextAreaElement>('#sample0')?.disabled).toBeFalse();
  });

  it('says beforehand how such dossiers fared, and nothing of odds where something blocks', async () => {
    await open({});
    expect(p.text()).toContain('Nothing blocks.');
    expect(p.text()).toMatch(/approved: \d+ of \d+ \(100/);
    closePage(p);
    await open({ privacyUrl: '' });
    expect(p.text()).toContain('Will be declined.');
    expect(p.text()).not.toMatch(/approved: \d+ of/);
    closePage(p);
    await open({}, 'registered');
    expect(p.text()).not.toContain('Readiness');
  });

  const declined = (attempt: number, over: Partial<typeof GOOD>, message: string) => ({
    attempt,
    body: { ...GOOD, ...over },
    submittedAt: Date.parse(`2027-02-0${attempt}T15:00:00Z`),
    state: 'declined',
    decidedAt: Date.parse(`2027-02-1${attempt}T15:00:00Z`),
    reasons: [{ field: 'agreement', code: 'x', message }],
  });

  it('calls nothing mended that only the registrar saw: it says how to, and that it was changed since', async () => {
    const reasons = [{ field: 'agreement', code: 'agreement-condition', message: 'Agreement is not free.' }];
    await open({}, 'declined', [], reasons);
    expect(p.text()).toContain('Agreement is not free.');
    expect(p.text()).not.toContain('Mended.');
    expect(p.text()).toContain('Mend: Say that people choose freely');
    await p.fill('agreement', `${GOOD.agreement} Nothing is ticked beforehand.`);
    expect(p.text()).toContain('Changed since.');
    expect(p.text()).not.toContain('Mend: Say that people choose freely');
  });

  it('shows what the registrar said at its field, wherever that is', async () => {
    const said = ['useCase', 'agreement', 'samples.1', 'hasLinks', 'hasPhones', 'optOutMessage', 'privacyUrl'];
    await open(
      {},
      'declined',
      [],
      said.map((field) => ({ field, code: 'own', message: `Said of ${field}.` })),
    );
    for (const field of said) expect(p.text()).toContain(`Said of ${field}.`);
  });

  it('keeps every version that was submitted, and lays any two beside each other', async () => {
    const tries = [
      declined(1, { agreement: 'They like it.' }, 'No place.'),
      declined(2, { optOutMessage: 'Goodbye.' }, 'It does not end.'),
    ];
    await open({}, 'declined', tries);
    expect([...p.host.querySelectorAll('lg-tries li')].map((l) => l.textContent?.trim())[0]).toContain(
      'It does not end.',
    );
    const changed = (): string => p.host.querySelector('lg-tries .changed')?.textContent ?? '';
    expect(changed())
      .withContext('the last try with what stands here now')
      .toMatch(/Answer to STOP:\s*Goodbye\./);
    const compare = p.host.querySelector<HTMLSelectElement>('#compare-before');
    if (!compare) throw new Error('nothing to compare');
    compare.value = '1';
    compare.dispatchEvent(new Event('change'));
    await p.settle();
    expect(changed()).toMatch(/How people agree:\s*They like it\./);
    expect(changed()).not.toContain('Goodbye.');
  });

  it('asks before a fourth try whether each reason of the three before has been met', async () => {
    const three = ['No place.', 'It does not end.', 'A condition.'].map((m, i) => declined(i + 1, {}, m));
    await open({}, 'declined', three.slice(0, 2));
    p.yes = false;
    await p.press('Submit…');
    expect(p.questions[0]?.facts?.map((f) => f.name)).toEqual(['Use', 'What is sent', 'Samples']);
    closePage(p);
    await open({}, 'declined', three);
    p.yes = false;
    await p.press('Submit…');
    expect(p.questions[0]?.line).toContain('Has each of these reasons been met?');
    expect(p.questions[0]?.facts).toEqual([
      { name: 'Try 1', value: 'No place.' },
      { name: 'Try 2', value: 'It does not end.' },
      { name: 'Try 3', value: 'A condition.' },
    ]);
    expect(p.api.of('registration.submitCampaign')).toEqual([]);
  });
});
