import type { Relationship } from '@long-gate/contracts';
import { ApiProblem } from '../../../api/api';
import { closePage, openPage, type Asked, type OpenPage } from '../../../../testing/open-page';
import { RecordRelationshipPage } from './record-relationship';
import { RelationshipsPage } from './relationships';

const AT = Date.parse('2027-03-10T15:00:00Z');
const sale = (over: Partial<Relationship> = {}): Relationship => ({
  id: 'rel_1',
  e164: '+12015550171',
  name: 'Wren Eide',
  contactId: 'con_1',
  kind: 'purchase',
  happenedOn: '2026-01-04',
  reference: 'ticket 4411',
  endsAt: Date.parse('2027-07-04T04:00:00Z'),
  standing: 'stands',
  brokenAt: null,
  file: 'ticket-office.csv',
  recordedBy: 'Imre Sand',
  recordedAt: AT,
  withdrawn: null,
  ...over,
});

describe('purchases and inquiries on screen', () => {
  let p: OpenPage;
  const open = async (at: string, over: Partial<Relationship> = {}, role = 'administrator'): Promise<void> => {
    p = await openPage(
      RelationshipsPage,
      {
        'relationships.list': { items: [sale(over)], next: null, total: 1 },
        'relationships.withdraw': { done: true },
      },
      { at, role },
    );
  };
  afterEach(() => closePage(p));
  const offers = (words: string): boolean =>
    [...p.host.querySelectorAll('a[matButton], button')].some((b) => b.textContent.includes(words));

  it('say whom one excepts and until when, and that it is no consent', async () => {
    await open('/page?open=rel_1');
    for (const part of ['Excepts them from registries', 'until 4 Jul 2027', 'ticket-office.csv', 'written consent'])
      expect(p.text()).toContain(part);
  });

  it('ask for those that the address narrows to, and for no others by a word that is none', async () => {
    await open('/page?standing=over&kind=inquiry&q=4411');
    expect(p.api.of('relationships.list').at(-1)?.query).toEqual(
      jasmine.objectContaining({ standing: 'over', kind: 'inquiry', q: '4411' }),
    );
    closePage(p);
    await open('/page?standing=whatever');
    expect(p.api.of('relationships.list').at(-1)?.query?.['standing']).toBeUndefined();
  });

  it('are withdrawn by an administrator, with a reason', async () => {
    await open('/page?open=rel_1');
    await p.press('Withdraw it');
    expect(p.text()).toContain('Say why.');
    expect(p.api.of('relationships.withdraw')).toEqual([]);
    await p.fill('why', 'The ticket was returned');
    await p.press('Withdraw it');
    expect(p.api.of('relationships.withdraw').map((a) => [a.params['id'], a.body])).toEqual([
      ['rel_1', { why: 'The ticket was returned' }],
    ]);
  });

  it('are withdrawn once, and by nobody who may not', async () => {
    await open('/page?open=rel_1', {
      standing: 'withdrawn',
      withdrawn: { at: AT, by: 'Imre Sand', why: 'The ticket was returned' },
    });
    expect(p.text()).toContain('The ticket was returned');
    expect(offers('Withdraw it')).toBeFalse();
    closePage(p);
    await open('/page?open=rel_1', {}, 'coordinator');
    expect([offers('Withdraw it'), offers('Record one')]).toEqual([false, false]);
    closePage(p);
    await open('/page', {}, 'viewer');
    expect(offers('Record one')).toBeFalse();
  });
});

describe('recording purchases and inquiries', () => {
  let p: OpenPage;
  let answers: Record<string, unknown>;
  const open = async (role = 'administrator'): Promise<void> => {
    p = await openPage(RecordRelationshipPage, answers, { at: '/page', role });
  };
  const SO = { parts: 1, lines: 3, taken: 1, known: 1, refused: 1 };
  beforeEach(() => {
    answers = {
      'relationships.list': { items: [], next: null, total: 0 },
      'relationships.record': sale(),
      'relationships.take': { ...SO, refusals: [{ line: 3, raw: 'hello 5', why: 'Too short.' }] },
    };
  });
  afterEach(() => closePage(p));
  const choose = async (text: string): Promise<void> => {
    const field = p.host.querySelector<HTMLInputElement>('input[type=file]');
    const data = new DataTransfer();
    data.items.add(new File([text], 'sales.csv'));
    if (field) field.files = data.files;
    field?.dispatchEvent(new Event('change'));
    for (let i = 0; i < 2_000 && p.text().includes('Stay on this page'); i++)
      await new Promise((r) => setTimeout(r, 25));
    await p.settle();
  };

  it('wants a number and a day that is one, and records what was written', async () => {
    await open();
    await p.press('Record it');
    expect(p.text()).toContain('Write the number.');
    expect(p.api.of('relationships.record')).toEqual([]);
    await p.fill('phone', '201 555 0171');
    await p.fill('happenedOn', '4 Jan 2026');
    await p.fill('reference', 'ticket 4411');
    await p.press('Record it');
    expect(p.api.of('relationships.record').map((a) => a.body)).toEqual([
      { phone: '201 555 0171', kind: 'purchase', happenedOn: '2026-01-04', reference: 'ticket 4411' },
    ]);
  });

  it('hands a file in by its parts, and says what became of its lines', async () => {
    await open();
    await choose('phone,day,what\n2015550171,2026-01-04,purchase\nhello 5');
    const [part] = p.api.of('relationships.take').map((a) => a.body as { part: number; name: string; lines: string[] });
    expect([part?.part, part?.name, part?.lines.length]).toEqual([0, 'sales.csv', 3]);
    for (const words of [
      '1 line of “sales.csv” recorded',
      '1 on record already',
      '1 not taken',
      'line 3',
      'Too short.',
    ])
      expect(p.text()).toContain(words);
  });

  it('says what stays of a file that went wrong, and that it can be chosen again', async () => {
    answers['relationships.take'] = ({ body }: Asked) => {
      if ((body as { part: number }).part > 0) throw new ApiProblem(409, 'conflict', 'Part 1 comes first.', []);
      return { ...SO, lines: 2000, refused: 0, refusals: [] };
    };
    await open();
    await choose(Array.from({ length: 2500 }, (_, i) => `201555${i},2026-01-04,purchase`).join('\n'));
    expect(p.text()).toContain('Part 1 comes first.');
    expect(p.text()).toContain('2,000 lines of it came and stay.');
  });

  it('is left to administrators', async () => {
    await open('coordinator');
    expect(p.text()).toContain('An administrator records them');
    expect(p.host.querySelector('input')).toBeNull();
  });
});
