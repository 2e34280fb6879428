import { GatewayBusy, GatewayDown, GatewayNotTaken } from '@long-gate/gateways';
import type {
  AddressAnswer,
  ClockAnswer,
  Gateways,
  HostingTest,
  LineAnswer,
  ReassignedReply,
  NumberWish,
  OutgoingText,
  OutsideEvent,
  PortFiling,
  Portability,
  RecordAnswer,
  Stock,
  TollFreeFiling,
} from '@long-gate/gateways';

/** How long it keeps whoever waits for its feed. */
const FEED_RESTS_MS = 20;

/** An outside in memory for the server's own specs: it records what it is asked and tells what it is given to tell. */
export class FakeOutside implements Gateways {
  readonly sent: OutgoingText[] = [];
  private readonly keys = new Set<string>();
  /** The outside's own clock. */
  now = (): number => Date.now();
  /** Nothing can be asked of it and it tells nothing. */
  down = false;
  readonly orders: string[] = [];
  readonly givenBack: string[] = [];
  readonly codes: { to: string; text: string }[] = [];
  readonly told: OutsideEvent[] = [];
  /** So many lots are taken, and the answer to each is lost. */
  lostLots = 0;
  /** So many lots are not taken: the network is busy. */
  busyLots = 0;
  /** Thrown by the next send, once. */
  nextSend: Error | null = null;
  /** Thrown by every send, as long as it is set. */
  always: (() => Error) | null = null;
  /** Runs before a text is looked at. */
  beforeSend: ((text: OutgoingText) => Promise<void>) | null = null;
  /** Runs after a text was taken but before the answer: where a crash would hurt most. */
  afterSend: (() => void) | null = null;

  /** What the registrar was asked beside submissions, by key. */
  readonly registrarAsked = new Map<string, Record<string, unknown>>();
  private asked(key: string, about: object): void {
    this.registrarAsked.set(key, { ...about });
  }

  exchange = {
    search: (_wish: NumberWish, _limit: number): Promise<Stock> => Promise.resolve({ total: 0, offers: [] }),
    stock: (_wish: NumberWish): Promise<Record<string, number>> => Promise.resolve({}),
    hold: (_key: string, _e164: string, _until: number): Promise<void> => Promise.resolve(),
    giveBack: (_key: string, e164: string): Promise<void> => Promise.resolve(void this.givenBack.push(e164)),
    order: (key: string) => Promise.resolve(void this.orders.push(key)),
  };
  registrar = {
    openAccount: () => Promise.resolve(),
    submitBrand: () => Promise.resolve(),
    askConfirmation: (key: string, about: { mobile: string }) => Promise.resolve(this.asked(key, about)),
    appealBrand: (key: string, about: { text: string }) => Promise.resolve(this.asked(key, about)),
    vetBrand: (key: string, about: { objection: string }) => Promise.resolve(this.asked(key, about)),
    answerSuspension: (key: string, about: { text: string }) => Promise.resolve(this.asked(key, about)),
    renewCampaign: (key: string, about: { campaignKey: string }) => Promise.resolve(this.asked(key, about)),
    verifyTollFree: (key: string, filing: TollFreeFiling) => Promise.resolve(this.asked(key, filing)),
    admitTo: () => Promise.resolve(),
    registerSenderId: () => Promise.resolve(),
    submitCampaign: () => Promise.resolve(),
    assignNumber: () => Promise.resolve(),
  };
  readonly filings: { key: string; filing: PortFiling }[] = [];
  readonly cancelled: string[] = [];
  readonly portOutAnswers: string[] = [];
  record: RecordAnswer | null = null;
  addresses = {
    check: (a: AddressAnswer['better']): Promise<AddressAnswer> => Promise.resolve({ verdict: 'good', better: a }),
  };
  bureau = {
    portability: (e164s: readonly string[]): Promise<Portability[]> =>
      Promise.resolve(
        e164s.map((e164) => ({
          e164,
          kind: 'landline',
          losingCarrier: 'Harth Telephone',
          portable: true,
          whyNot: '',
        })),
      ),
    record: () => Promise.resolve(this.record),
    submit: (key: string, filing: PortFiling) => Promise.resolve(void this.filings.push({ key, filing })),
    moveDate: () => Promise.resolve(),
    cancel: (_key: string, portKey: string) => Promise.resolve(void this.cancelled.push(portKey)),
    snapBack: () => Promise.resolve(),
    answerPortOut: (_key: string, attempt: string, refuse: boolean): Promise<void> =>
      Promise.resolve(void this.portOutAnswers.push(`${attempt} ${refuse ? 'refused' : 'let through'}`)),
  };
  hosting = {
    test: (e164: string): Promise<HostingTest> =>
      Promise.resolve({ e164, kind: 'landline', voiceCarrier: 'Harth Telephone', enabledElsewhere: '' }),
    callWithCode: () => Promise.resolve(),
    confirmCode: (_e164: string, code: string) => Promise.resolve(code === '481516'),
    file: () => Promise.resolve(),
    end: (_key: string, _e164: string): Promise<void> => Promise.resolve(),
  };
  lines = {
    lookup: (key: string, e164: string): Promise<LineAnswer> => {
      this.lookups.push({ key, e164 });
      return Promise.resolve({
        e164,
        lineType: this.lineTypes.get(e164) ?? 'mobile',
        carrier: 'Tessary Wireless',
        carrierKind: this.carrierKind,
        reachable: !this.unreachable.has(e164),
        askedAt: Date.now(),
      });
    },
    reassigned: (key: string, e164: string, day: string): Promise<ReassignedReply> => {
      this.reassignedAsked.push({ key, e164, day });
      return Promise.resolve({ e164, day, answer: this.reassigned.get(e164) ?? 'no', askedAt: Date.now() });
    },
  };
  /** What the reassigned numbers database says of numbers, where it is not "no". */
  readonly reassigned = new Map<string, ReassignedReply['answer']>();
  readonly reassignedAsked: { key: string; e164: string; day: string }[] = [];
  /** How the carriers it speaks of limit what is sent to them. */
  carrierKind: LineAnswer['carrierKind'] = 'A';
  /** What lines are, where they are no mobiles. */
  /** Phones that are switched off when they are looked up. */
  readonly unreachable = new Set<string>();
  readonly lineTypes = new Map<string, LineAnswer['lineType']>();
  readonly lookups: { key: string; e164: string }[] = [];
  readonly mails: { key: string; to: string; raw: string }[] = [];
  mail = {
    send: (key: string, to: string, raw: string): Promise<void> => {
      if (!this.mails.some((m) => m.key === key)) this.mails.push({ key, to, raw });
      return Promise.resolve();
    },
  };
  network = {
    meetCalls: (_key: string, _e164: string, _how: { forwardTo: string; greeting: string }): Promise<void> =>
      Promise.resolve(),
    sendCode: (_key: string, to: string, text: string): Promise<void> =>
      Promise.resolve(void this.codes.push({ to, text })),
    send: async (text: OutgoingText): Promise<void> => {
      await this.beforeSend?.(text);
      const error = this.nextSend ?? this.always?.() ?? null;
      this.nextSend = null;
      if (error) return Promise.reject(error);
      // The same key is the same text.
      if (this.keys.has(text.key)) return Promise.resolve();
      if (this.now() > text.takeBy) return Promise.reject(new GatewayNotTaken('Wanted earlier.', 'too-late'));
      const unread = (e: OutsideEvent): boolean => 'from' in e && e.from === text.to && e.seq > text.readUpTo;
      if (this.told.some(unread)) return Promise.reject(new GatewayNotTaken('Something is unread.', 'unread'));
      this.sent.push(text);
      this.keys.add(text.key);
      return Promise.resolve().then(() => this.afterSend?.());
    },
    sendLot: async (texts: readonly OutgoingText[]) => {
      if (this.busyLots > 0) {
        this.busyLots--;
        throw new GatewayBusy('The queue is full.', 500);
      }
      const answers = await Promise.all(
        texts.map((t) =>
          this.network.send(t).then(
            () => null,
            (error: unknown) => error as GatewayBusy,
          ),
        ),
      );
      if (this.lostLots === 0) return answers;
      this.lostLots--;
      throw new GatewayDown('the answer was lost');
    },
    known: (keys: readonly string[]): Promise<string[]> =>
      this.down ? Promise.reject(new GatewayDown('no answer')) : Promise.resolve(keys.filter((k) => this.keys.has(k))),
  };
  feed = {
    after: (seq: number, limit: number) =>
      this.down
        ? Promise.reject(new GatewayDown('no answer'))
        : Promise.resolve({ events: this.told.filter((e) => e.seq > seq).slice(0, limit), more: false }),
    wait: (): Promise<void> => new Promise((resolve) => setTimeout(resolve, FEED_RESTS_MS)),
  };
  simulation = {
    setClock: (now: number): Promise<ClockAnswer> => Promise.resolve({ now, nextDue: null, nextWhat: '' }),
    remember: () => Promise.resolve(),
  };
}
