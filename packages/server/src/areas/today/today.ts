import type { Matter } from '@long-gate/contracts';
import { formatAmount, formatCents, formatPhone, DOLLAR } from '@long-gate/core';
import type { Platform } from '../../platform/platform.js';
import type { Reviews } from '../consent/index.js';
import type { Contacts } from '../contacts/index.js';
import type { Drafts } from '../dispatch/index.js';
import type { Inbox } from '../inbox/index.js';
import type { Guard, Hosted, Numbers, PortFollowing } from '../numbers/index.js';
import type { Registration } from '../registration/index.js';
import type { Businesses, MoneyBook, SetAsideDesk } from '../settings/index.js';
import type { Watch } from '../watch/index.js';

type Course = Record<string, { open: number; worst: 'stop' | 'hold' | 'none' }>;
type Found = { kind: string; title: string; detail: string; link: string };

const AREAS = ['numbers', 'registration', 'contacts', 'consent', 'dispatch', 'watch', 'inbox', 'settings'];
const LOW_BALANCE = 20 * DOLLAR;
/** A balance that lasts no longer than this at the current pace is said. */
const LOW_DAYS = 14;

/** What is open, due or wrong, gathered from every area; each matter leads to its place. */
export class Today {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly aside: SetAsideDesk,
    private readonly money: MoneyBook,
    private readonly numbers: Numbers,
    private readonly ports: PortFollowing,
    private readonly hosted: Hosted,
    private readonly guard: Guard,
    private readonly registration: Registration,
    private readonly contacts: Contacts,
    private readonly reviews: Reviews,
    private readonly drafts: Drafts,
    private readonly inbox: Inbox,
    private readonly watch: Watch,
  ) {}

  async get(businessId: string): Promise<{ matters: Matter[]; course: Course }> {
    const matters = (
      await Promise.all([
        this.account(businessId),
        this.ofConnections(),
        this.ofNumbers(businessId),
        this.ofPorts(businessId),
        this.ofHosted(businessId),
        this.ofGuard(businessId),
        this.ofRegistration(businessId),
        this.ofContacts(businessId),
        this.ofConsent(businessId),
        this.ofDispatch(businessId),
        this.ofWatch(businessId),
        this.ofInbox(businessId),
      ])
    ).flat();
    const rank = { stop: 0, hold: 1, note: 2 };
    matters.sort((a, b) => rank[a.weight] - rank[b.weight] || AREAS.indexOf(a.area) - AREAS.indexOf(b.area));
    const course: Course = Object.fromEntries(
      AREAS.map((area) => {
        const mine = matters.filter((m) => m.area === area);
        const worst = mine.some((m) => m.weight === 'stop')
          ? 'stop'
          : mine.some((m) => m.weight === 'hold')
            ? 'hold'
            : 'none';
        return [area, { open: mine.reduce((n, m) => n + m.count, 0), worst }];
      }),
    );
    course['today'] = {
      open: matters.length,
      worst: matters.some((m) => m.weight === 'stop')
        ? 'stop'
        : matters.some((m) => m.weight === 'hold')
          ? 'hold'
          : 'none',
    };
    return { matters, course };
  }

  private matter(
    area: string,
    weight: Matter['weight'],
    title: string,
    detail: string,
    link: string,
    count = 1,
    at: number | null = null,
  ): Matter {
    return { area, weight, title, detail, link, count, at };
  }

  private async account(id: string): Promise<Matter[]> {
    const b = await this.businesses.row(this.p.db, id);
    const out: Matter[] = [];
    if (b.account_state === 'provisional')
      out.push(
        this.matter(
          'settings',
          'stop',
          'Open the account',
          'A provisional account may search and draft, but not buy, register or send.',
          'settings/business',
        ),
      );
    if (b.account_state === 'in review')
      out.push(
        this.matter(
          'settings',
          'hold',
          'The provider looks at the account',
          b.account_note || 'Numbers can be bought and brands registered as soon as it is open.',
          'settings/business',
        ),
      );
    if (b.account_state === 'restricted' || b.account_state === 'suspended')
      out.push(
        this.matter(
          'settings',
          'stop',
          `The account is ${b.account_state}`,
          'Talk to the provider.',
          'settings/business',
        ),
      );
    if (Boolean(b.texts_off))
      out.push(
        this.matter(
          'settings',
          'hold',
          'All texts are switched off',
          'Whatever would be sent is held until they are switched on again.',
          'settings/business',
        ),
      );
    const { daysLeft, perDay } = await this.money.outlook(id);
    if (b.balance >= LOW_BALANCE && daysLeft !== null && daysLeft < LOW_DAYS)
      out.push(
        this.matter(
          'settings',
          'hold',
          `The balance lasts ${daysLeft} more ${daysLeft === 1 ? 'day' : 'days'}`,
          `${formatCents(b.balance)} at ${formatCents(perDay)} a day. Top up, or let it top up by itself.`,
          'settings/money',
        ),
      );
    if (b.balance < LOW_BALANCE)
      out.push(
        this.matter(
          'settings',
          b.balance === 0 ? 'stop' : 'hold',
          `The balance is ${formatAmount(b.balance)}`,
          'Numbers, registrations, lookups and texts are paid from it.',
          'settings/money',
        ),
      );
    return out;
  }

  private async ofNumbers(id: string): Promise<Matter[]> {
    const all = await this.numbers.list(this.p.db, id);
    if (all.length === 0)
      return [
        this.matter('numbers', 'note', 'Get a number', 'There is no number to send from yet.', 'numbers/acquire', 0),
      ];
    return all
      .filter((n) => n.state !== 'released' && n.nextStep.action !== 'none')
      .map((n) =>
        this.matter(
          'numbers',
          n.nextStep.action === 'wait' ? 'hold' : 'stop',
          `${formatPhone(n.e164)}${n.label ? ` ${n.label}` : ''}: ${n.nextStep.title}`,
          n.nextStep.why,
          `numbers?open=${n.id}`,
        ),
      );
  }

  private async ofPorts(id: string): Promise<Matter[]> {
    return (await this.ports.matters(id)).map(({ port, what }) => {
      const which =
        port.numbers.length === 1 ? formatPhone(port.numbers[0]?.e164 ?? '') : `${port.numbers.length} numbers`;
      const { row } = port;
      const link = `numbers/ports/${row.id}`;
      switch (what) {
        case 'rejected':
          return this.matter(
            'numbers',
            'stop',
            `The port of ${which} was rejected`,
            'The reasons stand beside the fields they speak of. Mend and resubmit.',
            link,
          );
        case 'late':
          return this.matter(
            'numbers',
            'stop',
            `${row.losingCarrier} is late with the port of ${which}`,
            'The answer takes longer than the rule allows. Ask the port bureau.',
            link,
          );
        case 'foc near':
          return this.matter(
            'numbers',
            'hold',
            `${which} changes over soon`,
            'Keep the old service running; the runbook says what is tested on the day.',
            link,
            1,
            row.focAt,
          );
        case 'unprepared':
          return this.matter(
            'numbers',
            'hold',
            `Prepare the landing of ${which}`,
            'Without a campaign it cannot send on the day it lands.',
            link,
          );
        case 'tests':
          return this.matter(
            'numbers',
            'note',
            `Test ${which}, just landed`,
            'A text in, a text out and a call: then the old service may end.',
            link,
          );
      }
    });
  }

  private async ofHosted(id: string): Promise<Matter[]> {
    return (await this.hosted.list(id))
      .filter((h) => ['draft', 'refused', 'submitted'].includes(h.state))
      .map((h) =>
        this.matter(
          'numbers',
          h.state === 'refused' ? 'stop' : h.state === 'submitted' ? 'hold' : 'note',
          `Texting for ${formatPhone(h.e164)}: ${h.nextStep.title}`,
          h.nextStep.why,
          `numbers/hosted?open=${h.id}`,
        ),
      );
  }

  private async ofGuard(id: string): Promise<Matter[]> {
    return (await this.guard.open(id)).map((a) =>
      this.matter(
        'numbers',
        'stop',
        `${a.carrier} wants to take ${a.shown} away`,
        Boolean(a.locked)
          ? 'It is locked. Refuse it; at the deadline it is refused by itself.'
          : 'It is unlocked: refuse it before the deadline, or the number leaves.',
        `numbers?open=${a.number_id}`,
        1,
        a.deadline,
      ),
    );
  }

  private async ofRegistration(id: string): Promise<Matter[]> {
    const d = await this.registration.dossier(id);
    const out: Matter[] = [];
    const one = (what: string, state: string, blocks: number, link: string): void => {
      if (state === 'declined')
        out.push(
          this.matter(
            'registration',
            'stop',
            `${what} was declined`,
            'Its reasons stand beside the words they speak of. Mend and resubmit.',
            link,
          ),
        );
      else if (state === 'in review')
        out.push(
          this.matter(
            'registration',
            'hold',
            `${what} is in review`,
            'The registrar usually answers within a few days.',
            link,
          ),
        );
      else if (state === 'draft')
        out.push(
          this.matter(
            'registration',
            'note',
            `${what} is a draft`,
            blocks > 0
              ? `${blocks} finding${blocks === 1 ? '' : 's'} to mend before it can be submitted.`
              : 'It can be submitted.',
            link,
          ),
        );
    };
    one(
      'The brand',
      d.brand.state,
      d.brand.findings.filter((f) => f.severity === 'block').length,
      'registration/brand',
    );
    for (const c of d.campaigns)
      one(
        `Campaign ${c.name}`,
        c.state,
        c.findings.filter((f) => f.severity === 'block').length,
        `registration/campaigns/${c.id}`,
      );
    return out;
  }

  /** What could not be worked off; it may have been anybody's, so it is said in every business. */
  private async ofConnections(): Promise<Matter[]> {
    const n = await this.aside.count();
    return n === 0
      ? []
      : [
          this.matter(
            'settings',
            'stop',
            `${n} ${n === 1 ? 'matter' : 'matters'} from outside could not be understood`,
            'Set aside so that nothing else waits; look at the cause and take them up again.',
            'settings/connections',
            n,
          ),
        ];
  }

  private async ofContacts(id: string): Promise<Matter[]> {
    const { neverLookedUp: never, faultsInReview: faults } = await this.contacts.open(id);
    return [
      ...(never > 0
        ? [
            this.matter(
              'contacts',
              'hold',
              `${never.toLocaleString('en-US')} numbers never looked up`,
              'Errors on a cold list get an account suspended: look them up before the first send.',
              'contacts?textable=unknown',
              never,
            ),
          ]
        : []),
      ...(faults > 0
        ? [
            this.matter(
              'contacts',
              'hold',
              `${faults.toLocaleString('en-US')} number${faults === 1 ? '' : 's'} with three faults in 30 days`,
              'Held until somebody looks: try again, or keep out.',
              'contacts?faults=yes',
              faults,
            ),
          ]
        : []),
    ];
  }

  private async ofConsent(id: string): Promise<Matter[]> {
    const [{ count: reviews, oldest }, { unproven }] = await Promise.all([
      this.reviews.waiting(id),
      this.contacts.open(id),
    ]);
    return [
      ...(reviews > 0
        ? [
            this.matter(
              'consent',
              'stop',
              `${reviews} repl${reviews === 1 ? 'y' : 'ies'} may be a wish to stop`,
              'Read them; the law’s outer limit is ten business days.',
              'consent/replies',
              reviews,
              oldest,
            ),
          ]
        : []),
      ...(unproven > 0
        ? [
            this.matter(
              'consent',
              'note',
              `${unproven.toLocaleString('en-US')} claims of consent without proof`,
              'They do not open the gate. File the forms, or invite people to the opt-in page.',
              'contacts?promotional=unproven',
              unproven,
            ),
          ]
        : []),
    ];
  }

  private async ofDispatch(id: string): Promise<Matter[]> {
    const rows = await this.drafts.open(this.p.db, id, 20);
    return rows.map((d) =>
      d.state === 'draft'
        ? this.matter('dispatch', 'note', `Draft: ${d.title}`, 'Not sent yet.', `dispatch/${d.id}`)
        : this.matter(
            'dispatch',
            'hold',
            `Sending: ${d.title}`,
            d.held > 0
              ? `${d.held.toLocaleString('en-US')} held; they follow by themselves when their moment comes.`
              : 'Texts are leaving at the permitted pace.',
            `dispatch/${d.id}`,
          ),
    );
  }

  private async ofWatch(id: string): Promise<Matter[]> {
    return (await this.watch.numbers(id, 30))
      .filter((n) => n.level !== 'quiet')
      .map((n) =>
        this.matter(
          'watch',
          n.level === 'watch' ? 'hold' : 'stop',
          `${formatPhone(n.e164)} ${n.label}: ${n.because}`,
          'Over the last 30 days.',
          `watch?number=${n.numberId}`,
        ),
      );
  }

  private async ofInbox(id: string): Promise<Matter[]> {
    const n = await this.inbox.unread(id);
    return n > 0
      ? [
          this.matter(
            'inbox',
            'note',
            `${n} unread conversation${n === 1 ? '' : 's'}`,
            'Staff may answer within 24 hours of a person’s last word.',
            'inbox?unread=yes',
            n,
          ),
        ]
      : [];
  }

  /** Numbers, contacts, dispatches and campaigns by words or digits. */
  async find(businessId: string, q: string): Promise<Found[]> {
    const words = q.trim().toLowerCase();
    const digits = q.replace(/\D/g, '');
    const byDigits = digits.length >= 3;
    const r = this.p.db;
    const [numbers, contacts, dispatches, campaigns] = await Promise.all([
      this.numbers.find(r, businessId, words, byDigits ? digits : '', 5),
      this.contacts.find(businessId, q, 8),
      this.drafts.find(r, businessId, words, 5),
      this.registration.campaigns.find(r, businessId, words, 5),
    ]);
    return [
      ...numbers.map((n) => ({
        kind: 'number',
        title: formatPhone(n.e164),
        detail: n.label,
        link: `numbers?open=${n.id}`,
      })),
      ...contacts.map((c) => ({
        kind: 'contact',
        title: c.name || formatPhone(c.e164),
        detail: formatPhone(c.e164),
        link: `contacts?open=${c.id}`,
      })),
      ...campaigns.map((c) => ({
        kind: 'campaign',
        title: c.name,
        detail: c.state,
        link: `registration/campaigns/${c.id}`,
      })),
      ...dispatches.map((d) => ({ kind: 'dispatch', title: d.title, detail: d.state, link: `dispatch/${d.id}` })),
    ];
  }
}
