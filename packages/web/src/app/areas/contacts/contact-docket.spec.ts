import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import { MatChipHarness } from '@angular/material/chips/testing';
import { MatNativeSelectHarness } from '@angular/material/input/testing';
import { closePage, openPage, type Asked, type OpenPage } from '../../../testing/open-page';
import { ApiProblem } from '../../api/api';
import { ContactDocket } from './contact-docket';

const OUT = { result: 'stop', why: 'opted out', lift: 'their START', answers: [{ post: 5, result: 'stop' }] };
const NUMBER = {
  e164: '+12015550171',
  label: '',
  country: 'US',
  lineType: 'mobile',
  carrier: 'Tessary Wireless',
  lookedUpAt: 1 as number | null,
  lastReplyAt: null,
  textable: 'yes',
  reachable: true,
  trouble: 'none',
  states: 'NJ',
  zones: 'America/New_York',
  faultsInReview: false,
  consent: { informational: 'granted', promotional: 'none', conversational: 'none' },
  refusedElsewhere: [] as string[],
};
const contact = {
  id: 'con_1',
  firstName: 'Wren',
  lastName: 'Eide',
  email: 'wren@post.example',
  stateCode: 'NJ',
  lists: ['Crew'],
  version: 2,
  further: 0,
  language: '',
  street: '',
  city: '',
  postalCode: '',
  own: {} as Record<string, string>,
  createdAt: 1,
  merged: null as object | null,
  alike: [] as object[],
  number: NUMBER,
  verdicts: { informational: OUT as object, promotional: OUT as object },
  numbers: [] as object[],
};
const WORK = {
  ...NUMBER,
  e164: '+12015550172',
  label: 'work',
  lookedUpAt: null,
  lineType: 'unknown',
  textable: 'unknown',
};

/** The contact that is looked at. */
const shown = signal('con_1');

@Component({
  selector: 'lg-around',
  imports: [ContactDocket],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<lg-contact-docket [contactId]="id()" />`,
})
class Around {
  readonly id = shown;
}

const NO_EVENTS = { items: [], next: null, total: 0 };
const changed = (body: unknown): object => {
  const { add, remove } = body as { add?: string[]; remove?: string[] };
  return { added: add ?? [], removed: remove ?? [] };
};

const FIELDS = [
  { id: 'fld_1', name: 'Berth', kind: 'number', choices: [], outcome: false },
  { id: 'fld_2', name: 'Season pass', kind: 'choice', choices: ['foot', 'car'], outcome: false },
];
describe('a contact', () => {
  let p: OpenPage;
  let kept: typeof contact;
  let answers: object[] = [];
  beforeEach(() => {
    answers = [];
    shown.set('con_1');
  });
  const open = async (role = 'administrator', over: object = {}, ledger: object = NO_EVENTS): Promise<void> => {
    kept = { ...contact, ...over };
    const { number, verdicts } = kept;
    if (kept.numbers.length === 0) kept.numbers = [{ ...number, preferred: true, verdicts, troubles: [] }];
    p = await openPage(
      Around,
      {
        'contacts.get': () => kept,
        'contacts.edit': (a: { body: object; version?: number }) => {
          if (a.version !== kept.version) return new ApiProblem(412, 'changed-meanwhile', 'Changed.', []);
          if ((a.body as { stateCode: string }).stateCode === 'XX')
            return new ApiProblem(422, 'refused', 'No.', [{ field: 'stateCode', message: 'There is no state XX.' }]);
          return (kept = { ...kept, ...a.body, version: kept.version + 1 });
        },
        'fields.list': { items: FIELDS },
        'contacts.preferNumber': () => kept,
        'contacts.dropNumber': () => kept,
        'lists.list': {
          items: [
            { id: 'lst_1', name: 'Crew', kind: 'list', count: 14 },
            { id: 'lst_2', name: 'Commuters', kind: 'tag', count: 300 },
          ],
        },
        'lists.members': ({ body }: Asked) => ({ added: [], removed: [], ...changed(body) }),
        'lists.add': { id: 'lst_3', name: 'New', kind: 'tag', count: 0 },
        'consent.ledger': ledger,
        'consent.recordWish': { id: 'evt_1' },
        'contacts.decideFaults': { done: true },
        'reassigned.answers': answers,
        'reassigned.estimate': ({ body }: Asked) => ({
          numbers: (body as { again: boolean }).again ? 1 : 0,
          cost: 5_500,
          seconds: 1,
          balance: 1_000_000,
        }),
        'reassigned.start': { jobId: 'job_1', numbers: 1 },
      },
      { role },
    );
  };
  afterEach(() => closePage(p));

  it('says first whether it may be texted now, why not, and what would lift it', async () => {
    await open();
    expect(p.host.querySelector('.step')?.textContent?.replace(/\s+/g, ' ').trim()).toBe(
      'Stopped. opted out. What lifts it: their START.',
    );
    expect(p.text()).toContain('Post 5');
  });

  it('says what was last answered to whether the number changed hands, by which consent, and asks anew', async () => {
    answers = [
      { id: 'rnd_2', day: '2026-10-03', answer: 'no data', askedAt: Date.UTC(2026, 10, 3, 17) },
      { id: 'rnd_1', day: '2026-01-02', answer: 'no', askedAt: Date.UTC(2026, 1, 3, 17) },
    ];
    await open();
    expect(p.text().replace(/\s+/g, ' ')).toContain('not known, asked 3 Nov 2026, 12:00 by the consent of 3 Oct 2026');
    p.yes = true;
    await p.press('Ask…');
    expect(p.questions[0]?.title).toBe('Ask whether this number changed hands?');
    expect(p.questions[0]?.line).toContain('They agreed or were asked about lately.');
    expect(p.api.of('reassigned.start').map((a) => a.body)).toEqual([{ e164s: [NUMBER.e164], again: true }]);
  });

  it('says of a number nobody asked about that it was never asked, and viewers ask nothing', async () => {
    await open('viewer');
    expect(p.text().replace(/\s+/g, ' ')).toContain('Changed hands never asked');
    expect(p.text()).not.toContain('Ask…');
  });

  it('says for which kind of text it speaks, and never another post than the one that decides', async () => {
    await open('administrator', {
      verdicts: {
        informational: { result: 'pass', why: 'passes', lift: '', answers: [{ post: 6, result: 'pass' }] },
        promotional: {
          result: 'stop',
          why: 'never agreed to this kind of text',
          lift: 'the opt-in page',
          // Held at an earlier post, stopped at a later one: the worst answer decides.
          answers: [
            { post: 3, result: 'hold' },
            { post: 6, result: 'stop' },
          ],
        },
      },
    });
    expect(p.host.querySelector('.step')?.textContent?.replace(/\s+/g, ' ').trim()).toBe(
      'May get informational texts now. No promotional ones: never agreed to this kind of text. What lifts it: the opt-in page.',
    );
    expect(p.text()).toContain('An informational text, now: passes');
    expect(p.text()).toContain('A promotional text, now: stopped');
    expect(p.text()).toContain('Post 6, consent for this purpose: never agreed to this kind of text.');
    expect(p.text()).not.toContain('Post 3');
    expect(p.host.querySelectorAll('lg-gate-strip').length).toBe(2);
  });

  it('is edited in place, saved by itself, and a fault stands at its field', async () => {
    await open();
    await p.press('Edit');
    await p.fill('first', 'Wrenna');
    await p.press('Done');
    expect(kept.firstName).toBe('Wrenna');
    await p.press('Edit');
    await p.fill('st', 'XX');
    await p.press('Done');
    expect(document.getElementById('st-wrong')?.textContent?.trim()).toBe('There is no state XX.');
    expect(p.host.querySelector('#st')).not.toBeNull();
  });

  it('takes in what a colleague changed in another field meanwhile', async () => {
    await open();
    await p.press('Edit');
    kept = { ...kept, email: 'w@elsewhere.example', version: 3 };
    await p.fill('first', 'Wrenna');
    await p.press('Done');
    expect([kept.firstName, kept.email]).toEqual(['Wrenna', 'w@elsewhere.example']);
  });

  it('stops all texts on their word, once it was written down and confirmed', async () => {
    await open();
    await p.press('They asked us to stop…');
    await p.press('Record and stop all texts');
    expect(document.getElementById('words-wrong')?.textContent?.trim()).toBe('Write what the person said.');
    await p.fill('words', 'No more, please.');
    p.yes = false;
    await p.press('Record and stop all texts');
    expect(p.api.of('consent.recordWish')).toEqual([]);
    p.yes = true;
    await p.press('Record and stop all texts');
    expect(p.api.of('consent.recordWish').map((a) => a.body)).toEqual([
      {
        how: 'phone call',
        saidOn: '',
        words: 'No more, please.',
        e164: '+12015550171',
        purposes: ['conversational', 'informational', 'promotional'],
      },
    ]);
  });

  it('takes nothing that one person said for the words of another', async () => {
    await open();
    await p.press('They asked us to stop…');
    await p.fill('words', 'No more, please.');
    await p.fill('saidOn', '1 Feb 2027');
    shown.set('con_2');
    await p.settle();
    await p.press('They asked us to stop…');
    const values = ['words', 'saidOn'].map((id) => p.host.querySelector<HTMLInputElement>(`[id=${id}]`)?.value);
    expect(values).toEqual(['', '']);
  });

  it('takes a no that was told on an earlier day, and says where the law’s days are over', async () => {
    await open();
    await p.press('They asked us to stop…');
    const how = await p.loader.getHarness(MatNativeSelectHarness.with({ selector: '[id=how]' }));
    await how.selectOptions({ text: 'in person' });
    await p.fill('words', 'No more, please.');
    await p.fill('saidOn', '2 Mar 2027');
    const late = (): string => p.host.querySelector('form [role=status]')?.textContent?.trim() ?? '';
    expect(late()).toBe('');
    await p.fill('saidOn', '1 Feb 2027');
    expect(late()).toMatch(/^That was \d+ business days ago; the law’s outer limit is ten/);
    await p.press('Record and stop all texts');
    expect(p.api.of('consent.recordWish').map((a) => a.body)).toEqual([
      jasmine.objectContaining({ how: 'in person', saidOn: '2027-02-01' }),
    ]);
  });

  it('is put on a list that is known by its name, whatever its case, or on a new tag', async () => {
    await open();
    const put = p.host.querySelector<HTMLInputElement>('[aria-label="Put on a list or tag"]');
    if (put) put.id = 'put';
    await p.fill('put', 'commuters');
    put?.form?.dispatchEvent(new Event('submit', { cancelable: true }));
    await p.settle();
    expect(p.api.of('lists.members').map((a) => [a.params['id'], a.body])).toEqual([['lst_2', { add: ['con_1'] }]]);
    expect(p.api.of('lists.add')).toEqual([]);
  });

  it('is taken off a list at its mark, and put back where that was a slip', async () => {
    await open();
    const chip = await p.loader.getHarness(MatChipHarness.with({ text: 'Crew' }));
    await (await chip.getRemoveButton()).click();
    await p.settle();
    expect(p.api.of('lists.members').map((a) => [a.params['id'], a.body])).toEqual([['lst_1', { remove: ['con_1'] }]]);
    expect(p.said).toEqual(['1 contact taken off “Crew”.']);
    p.undo?.();
    await p.settle();
    expect(p.api.of('lists.members').at(-1)?.body).toEqual({ add: ['con_1'] });
  });

  it('shows a viewer its lists without a way to take it off', async () => {
    await open('viewer');
    const chip = await p.loader.getHarness(MatChipHarness.with({ text: 'Crew' }));
    await expectAsync(chip.getRemoveButton()).toBeRejected();
    expect(p.host.querySelector('[aria-label="Put on a list or tag"]')).toBeNull();
  });

  it('unfolds what was agreed to and in which words, for whoever uses keys too', async () => {
    await open(
      'administrator',
      {},
      {
        items: [
          {
            id: 'evt_1',
            seq: 7,
            happenedAt: 1,
            kind: 'granted',
            awaitsConfirmation: false,
            purposes: ['informational'],
            how: 'web page',
            disclosure: 'Text me about my boat.',
            disclosureVersion: 'heron page, version 2',
            evidence: { page: 'heron' },
            hash: 'ab'.repeat(32),
          },
        ],
        next: null,
        total: 1,
      },
    );
    const line = Array.from(p.host.querySelectorAll<HTMLButtonElement>('lg-unfold button')).find((b) =>
      b.textContent.includes('granted'),
    );
    const more = document.getElementById(line?.getAttribute('aria-controls') ?? '');
    expect([line?.getAttribute('aria-expanded'), more?.hidden]).toEqual(['false', true]);
    line?.click();
    await p.settle();
    expect([line?.getAttribute('aria-expanded'), more?.hidden]).toEqual(['true', false]);
    expect(more?.textContent).toContain('Text me about my boat.');
    expect(more?.textContent).withContext('the whole hash, to be compared').toContain('ab'.repeat(32));
  });

  it('calls what was kept of a consent as people do, shows no ids, and leads to the event in the ledger', async () => {
    const evidence = { form: 'frm_1', document: 'counter.pdf', agent: 'Mozilla/5.0' };
    const event = { id: 'evt_9', seq: 9, happenedAt: 1, kind: 'granted', awaitsConfirmation: false };
    const words = { disclosure: 'Text me offers.', disclosureVersion: 'form frm_1', hash: 'cd'.repeat(32) };
    const items = [{ ...event, ...words, purposes: ['promotional'], how: 'paper form', evidence }];
    await open('administrator', {}, { items, next: null, total: 1 });
    const said = p.host.textContent ?? '';
    for (const part of ['Document', 'counter.pdf', 'Browser', 'Mozilla/5.0', 'Text me offers.'])
      expect(said).toContain(part);
    expect(said).not.toContain('frm_1');
    const to = [...p.host.querySelectorAll<HTMLAnchorElement>('a')].find((a) =>
      a.textContent.includes('in the ledger'),
    );
    expect(to?.getAttribute('href')).toMatch(/\/consent\?open=evt_9$/);
  });

  it('lets an administrator, and nobody else, end the review of its faults', async () => {
    const faults = { number: { ...contact.number, faultsInReview: true } };
    await open('coordinator', faults);
    expect(p.text()).toContain('An administrator decides.');
    closePage(p);
    await open('administrator', faults);
    expect(p.text()).toContain('Try it again');
  });

  it('has its line looked up again, for what one lookup costs', async () => {
    await open();
    Object.assign(p.api.answers, {
      'lookups.estimate': ({ body }: Asked) => ({
        numbers: (body as { again: boolean }).again ? 1 : 0,
        cost: 5500,
        seconds: 1,
        balance: 9_000_000,
      }),
      'lookups.start': { jobId: 'job_1', numbers: 1 },
    });
    await p.press('Look it up again…');
    expect(p.questions.at(-1)?.title).toBe('Look up this number again?');
    expect(p.api.of('lookups.start').map((a) => a.body)).toEqual([{ e164s: ['+12015550171'], again: true }]);
  });

  it('has several numbers, each looked at by itself, and texts go to the one that is preferred', async () => {
    const numbers = [
      { ...NUMBER, preferred: true, verdicts: contact.verdicts, troubles: [] },
      { ...WORK, preferred: false, verdicts: contact.verdicts, troubles: [], refusedElsewhere: ['promotional'] },
    ];
    await open('coordinator', { numbers, further: 1 });
    expect(p.text()).toContain('texts go here');
    expect(p.text()).not.toContain('the same person refused them');
    await p.press('+1 201-555-0172');
    expect(p.text()).toContain('No promotional texts: the same person refused them on another number.');
    expect(p.api.of('consent.ledger').at(-1)?.query['e164']).toBe('+12015550172');
    p.yes = false;
    await p.press('Text this one');
    expect(p.questions.at(-1)?.line).toContain('No text would pass to it now: opted out.');
    expect(p.api.of('contacts.preferNumber')).toEqual([]);
    p.yes = true;
    await p.press('Text this one');
    expect(p.api.of('contacts.preferNumber').map((a) => a.body)).toEqual([{ e164: '+12015550172' }]);
  });

  it('shows its own fields, and a value that does not fit stands at its field', async () => {
    await open('coordinator', { own: { fld_1: '12' } });
    expect(p.text()).toContain('Berth');
    Object.assign(p.api.answers, {
      'contacts.edit': () =>
        new ApiProblem(422, 'refused', 'Berth: no number', [{ field: 'own:fld_1', message: 'no number' }]),
    });
    await p.press('Edit');
    const berth = Array.from(p.host.querySelectorAll('label')).find((l) => l.textContent.includes('Berth'));
    await p.fill(berth?.htmlFor ?? '', 'twelve');
    await p.press('Done');
    expect(p.api.of('contacts.edit').at(-1)?.body).toEqual(
      jasmine.objectContaining({ own: { fld_1: 'twelve', fld_2: '' } }),
    );
    expect(p.text()).toContain('no number');
  });

  it('is merged with whom it is once what comes of it was seen, and parted again', async () => {
    const alike = [{ id: 'con_2', name: 'W. Eide', e164: '+12015550173' }];
    await open('coordinator', { alike, merged: { id: 'mrg_1', name: 'Wren E.', at: 1, by: 'Cora' } });
    Object.assign(p.api.answers, {
      'contacts.previewMerge': ({ params, query }: Asked) => ({
        keptId: params['id'],
        goneId: query['with'],
        keptVersion: 2,
        goneVersion: 5,
        facts: [{ what: 'First name', kept: 'Wren', gone: 'W.', then: 'Wren' }],
        numbers: [],
        lists: ['Crew'],
        bars: ['No promotional texts to +1 201-555-0171 any more.'],
      }),
      'contacts.merge': () => kept,
      'contacts.undoMerge': { keptId: 'con_1', goneId: 'con_3' },
    });
    await p.press('Merge…');
    expect(p.text()).toContain('“W.” goes');
    expect(p.text()).toContain('No promotional texts to +1 201-555-0171 any more.');
    expect(p.api.of('contacts.merge')).toEqual([]);
    await p.press('Merge them');
    expect(p.api.of('contacts.merge').map((a) => a.body)).toEqual([{ with: 'con_2', keptVersion: 2, goneVersion: 5 }]);
    await p.press('Take it back');
    expect(p.api.of('contacts.undoMerge').map((a) => a.params['id'])).toEqual(['mrg_1']);
  });

  it('is erased by an administrator alone, once it was written who asked and that it is meant', async () => {
    await open('coordinator');
    expect(p.text()).not.toContain('They asked to be erased');
    closePage(p);
    await open();
    Object.assign(p.api.answers, { 'contacts.erase': { gone: [], kept: ['The ledger'], digests: [] } });
    await p.press('They asked to be erased…');
    await p.press('Erase this person…');
    expect(p.api.of('contacts.erase')).withContext('nothing was written').toEqual([]);
    await p.fill('request', 'By letter of 3 March');
    await p.press('Erase this person…');
    expect(p.questions.at(-1)?.written?.is).toBe('Wren Eide');
    expect(p.api.of('contacts.erase').map((a) => a.body)).toEqual([{ request: 'By letter of 3 March' }]);
    expect(p.said.at(-1)).toContain('What stays as proof: The ledger');
  });

  it('is only read by a viewer', async () => {
    await open('viewer');
    expect(p.text()).not.toContain('They asked us to stop');
    expect(p.text()).not.toContain('Edit');
  });
});
