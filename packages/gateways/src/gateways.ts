import type { FeedEvent } from './events.js';
import type {
  AddressAnswer,
  BrandFiling,
  CampaignFiling,
  ClockAnswer,
  LineAnswer,
  OutgoingText,
  HostingFiling,
  HostingTest,
  PortFiling,
  ReassignedReply,
  Portability,
  RecordAnswer,
  ProgrammeFiling,
  SimulatedPast,
  Stock,
  TollFreeFiling,
} from './shapes.js';

/** What somebody looks for at the exchange. */
export interface NumberWish {
  /** ISO country. */
  country: string;
  kind: 'local' | 'toll-free' | 'short code';
  /** Empty for any. */
  areaCodes: readonly string[];
  /** Digits and `?`, anywhere in the number; empty for any. */
  pattern: string;
  capabilities: readonly string[];
  /** Numbers that are not wanted: in use here, or in somebody's draft. */
  except: readonly string[];
}

/** Sells numbers. Orders are answered later by `order.filled` or `order.failed`. */
export interface NumberExchange {
  /** Free numbers, at most `limit`, and how many there are in all. */
  search(wish: NumberWish, limit: number): Promise<Stock>;
  /** How many free numbers that are as wished each of the area codes has. */
  stock(wish: NumberWish): Promise<Record<string, number>>;
  /** Keeps a number aside until a moment of scenario time. Idempotent by key. @throws GatewayRefused when it is taken. */
  hold(key: string, e164: string, until: number): Promise<void>;
  /** Gives a number back that was kept aside or bought. Idempotent by key. */
  giveBack(key: string, e164: string): Promise<void>;
  /** Idempotent by key. @param programme what a short code is leased for, which the networks look at; null for others. */
  order(key: string, e164: string, programme: ProgrammeFiling | null): Promise<void>;
}

/** Reviews accounts, brands and campaigns; answers later. All idempotent by key. */
export interface Registrar {
  openAccount(key: string, legalName: string): Promise<void>;
  /** Asks a country's admission for a business. */
  admitTo(key: string, about: { code: string; legalName: string; website: string }): Promise<void>;
  registerSenderId(
    key: string,
    about: { text: string; code: string; legalName: string; nameLine: string },
  ): Promise<void>;
  submitBrand(key: string, filing: BrandFiling): Promise<void>;
  /** Asks the owner of a sole proprietor's brand once more, on this mobile, to answer YES. */
  askConfirmation(key: string, about: { brandKey: string; mobile: string }): Promise<void>;
  /** Objects to a decline, with what proves it. Answered as the brand's submission is. */
  appealBrand(key: string, about: { brandKey: string; text: string }): Promise<void>;
  /** Has a brand vetted; `objection` says why a score is too low, and is empty for a fresh vetting. */
  vetBrand(key: string, about: { brandKey: string; legalName: string; objection: string }): Promise<void>;
  submitCampaign(key: string, filing: CampaignFiling): Promise<void>;
  /** Says what was changed, so that a suspension is lifted. */
  answerSuspension(key: string, about: { campaignKey: string; text: string }): Promise<void>;
  /** Confirms a campaign for another year. */
  renewCampaign(key: string, about: { campaignKey: string }): Promise<void>;
  verifyTollFree(key: string, filing: TollFreeFiling): Promise<void>;
  /** `prepared`: the assignment was filed ahead, while the number was still on its way. */
  assignNumber(key: string, e164: string, campaignKey: string, prepared: boolean): Promise<void>;
}

/** Knows the post's addresses. */
export interface AddressCheck {
  check(address: AddressAnswer['better']): Promise<AddressAnswer>;
}

/** Speaks for the losing carriers. Answers to submissions come later by the feed. All but the questions idempotent by key. */
export interface PortBureau {
  /** The kind of each line, who has it, and whether we serve its rate centre. */
  portability(e164s: readonly string[]): Promise<Portability[]>;
  /** The losing carrier's record of the account these numbers are on; null where it hands none out. */
  record(e164s: readonly string[]): Promise<RecordAnswer | null>;
  submit(key: string, filing: PortFiling): Promise<void>;
  /** Asks for another FOC date, `YYYY-MM-DD`. */
  moveDate(key: string, portKey: string, day: string): Promise<void>;
  cancel(key: string, portKey: string): Promise<void>;
  snapBack(key: string, portKey: string): Promise<void>;
  /** Answers somebody else's wish to take a number of ours away. */
  answerPortOut(key: string, attempt: string, refuse: boolean): Promise<void>;
}

/** Adds texting to lines whose voice service stays where it is. Filing is answered later; filing and ending idempotent by key. */
export interface TextHosting {
  test(e164: string): Promise<HostingTest>;
  /** Calls the line and reads out a code. Idempotent by key. */
  callWithCode(key: string, e164: string): Promise<void>;
  /** True where the code is the one that was read out last. */
  confirmCode(e164: string, code: string): Promise<boolean>;
  file(key: string, filing: HostingFiling): Promise<void>;
  end(key: string, e164: string): Promise<void>;
}

/** Tells what a line is. Costs, and allows a permitted pace. */
export interface LineInformation {
  /** Idempotent by key: the same key gives the answer that was paid for. @throws GatewayBusy above the permitted pace. */
  lookup(key: string, e164: string): Promise<LineAnswer>;
  /**
   * Whether a number was given up for good after a day, `YYYY-MM-DD`; by the same pace and price as a lookup. Idempotent
   * by key. @throws GatewayBusy above the permitted pace.
   */
  reassigned(key: string, e164: string, day: string): Promise<ReassignedReply>;
}

/** Carries e-mail. Idempotent by key. */
export interface Mail {
  /** @param raw the whole message, as RFC 5322 has it. */
  send(key: string, to: string, raw: string): Promise<void>;
}

/** Carries texts; receipts come later by the feed. Idempotent by key. */
export interface MessageNetwork {
  /**
   * @throws GatewayBusy when its queue is full; GatewayNotTaken where something of the recipient's is unread or the
   * moment is past; GatewayRefused for a fault of number or configuration; GatewayDown where it is unknown whether it
   * was taken (ask {@link known}, once the text's `takeBy` is past).
   */
  send(text: OutgoingText): Promise<void>;
  /**
   * Hands several over at once; what became of each, in their order: null where it was taken, else what {@link send}
   * would have thrown.
   * @throws GatewayDown where it is unknown of all of them.
   */
  sendLot(texts: readonly OutgoingText[]): Promise<(GatewayBusy | GatewayNotTaken | GatewayRefused | null)[]>;
  /** Which of these texts it has taken. */
  known(keys: readonly string[]): Promise<string[]>;
  /** How calls to a number of ours are met: put through, or answered with spoken words. Idempotent by key. */
  meetCalls(key: string, e164: string, how: { forwardTo: string; greeting: string }): Promise<void>;
  /** A code to a member of staff, from the provider's own sender. Idempotent by key. */
  sendCode(key: string, to: string, text: string): Promise<void>;
}

/** What the outside tells us, in order; reading does not take away. */
export interface OutsideFeed {
  after(seq: number, limit: number): Promise<{ events: FeedEvent[]; more: boolean }>;
  /** Resolves when there may be something after this place, at the latest after so many milliseconds, or when aborted. */
  wait(seq: number, withinMs: number, signal: AbortSignal): Promise<void>;
}

/** Only a simulated outside has this: its scenario clock follows ours, and a demo's past can be told to it. */
export interface Simulation {
  setClock(now: number): Promise<ClockAnswer>;
  /** Tells what the outside shall remember of a past that was generated. Adding the same again changes nothing. */
  remember(past: SimulatedPast): Promise<void>;
}

export interface Gateways {
  exchange: NumberExchange;
  registrar: Registrar;
  addresses: AddressCheck;
  bureau: PortBureau;
  hosting: TextHosting;
  lines: LineInformation;
  network: MessageNetwork;
  mail: Mail;
  feed: OutsideFeed;
  simulation: Simulation | null;
}

/** The service asks us to slow down; try again later. */
export class GatewayBusy extends Error {
  constructor(
    message: string,
    readonly retryAfterMs: number,
    /** It was asked faster than it permits; otherwise it is out of order for a moment. */
    readonly tooFast = true,
  ) {
    super(message);
    this.name = 'GatewayBusy';
  }
}

/** The network did not take a text, and would not without a fresh look: judge it again, then try again. */
export class GatewayNotTaken extends Error {
  constructor(
    message: string,
    readonly code: string,
  ) {
    super(message);
    this.name = 'GatewayNotTaken';
  }
}

/** The service understood and said no; trying the same again is useless. */
export class GatewayRefused extends Error {
  constructor(
    message: string,
    readonly code: string,
  ) {
    super(message);
    this.name = 'GatewayRefused';
  }
}

/** The service did not answer. Whether it took the request is unknown, so the same key must be tried again. */
export class GatewayDown extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'GatewayDown';
  }
}
