import { z } from 'zod';
import { Feed } from './events.js';
import { GatewayBusy, GatewayDown, GatewayNotTaken, GatewayRefused, type Gateways } from './gateways.js';
import {
  AddressAnswer,
  ClockAnswer,
  HostingTest,
  LineAnswer,
  Portability,
  ReassignedReply,
  RecordAnswer,
  Stock,
} from './shapes.js';

/** Where each outside service answers; every one may live elsewhere. */
export interface GatewayAddresses {
  exchange: string;
  registrar: string;
  addresses: string;
  bureau: string;
  hosting: string;
  lines: string;
  network: string;
  mail: string;
  feed: string;
  /** Only for a simulated outside. */
  simulation: string | null;
}

/** All services at one address, as the stand-ins are. */
export function allAt(base: string, simulated = true): GatewayAddresses {
  return {
    exchange: base,
    registrar: base,
    addresses: base,
    bureau: base,
    hosting: base,
    lines: base,
    network: base,
    mail: base,
    feed: base,
    simulation: simulated ? base : null,
  };
}

const TIMEOUT_MS = 15_000;
/** Codes with which a network says that a text needs a fresh look. */
const NOT_TAKEN = ['unread', 'too-late'];

async function call<T>(
  schema: z.ZodType<T>,
  method: string,
  url: string,
  body?: unknown,
  signal: AbortSignal = AbortSignal.timeout(TIMEOUT_MS),
): Promise<T> {
  let response: Response;
  try {
    response = await fetch(url, {
      method,
      signal,
      ...(body === undefined ? {} : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
    });
  } catch {
    throw new GatewayDown(`${new URL(url).pathname} did not answer`);
  }
  const answer: unknown = await response.json().catch(() => ({}));
  if (response.ok) return schema.parse(answer);
  throw errorOf(response.status, answer, Number(response.headers.get('retry-after') ?? 1) * 1000);
}

const ProblemBody = z.object({ detail: z.string().default('no reason given'), code: z.string().default('refused') });

/** What a status and its problem details mean. */
function errorOf(
  status: number,
  body: unknown,
  retryAfterMs: number,
): GatewayBusy | GatewayNotTaken | GatewayDown | GatewayRefused {
  const problem = ProblemBody.parse(body ?? {});
  if (status === 429 || status === 503) return new GatewayBusy(problem.detail, retryAfterMs, status === 429);
  if (status === 409 && NOT_TAKEN.includes(problem.code)) return new GatewayNotTaken(problem.detail, problem.code);
  if (status >= 500) return new GatewayDown(problem.detail);
  return new GatewayRefused(problem.detail, problem.code);
}

const Accepted = z.object({ accepted: z.literal(true) });
const LotAnswer = z.object({
  answers: z.array(
    z.union([
      Accepted,
      ProblemBody.extend({ status: z.number().int().min(400).max(499), retryAfterMs: z.number().default(1000) }),
    ]),
  ),
});

/** The gateways over HTTP, as the stand-ins and any adapter of a real service speak it. */
export function httpGateways(at: GatewayAddresses): Gateways {
  const done = async (p: Promise<unknown>): Promise<void> => {
    await p;
  };
  const simulation = at.simulation;
  return {
    exchange: {
      search: (wish, limit) => call(Stock, 'POST', `${at.exchange}/exchange/searches`, { ...wish, limit }),
      hold: (key, e164, until) => done(call(Accepted, 'POST', `${at.exchange}/exchange/holds`, { key, e164, until })),
      giveBack: (key, e164) => done(call(Accepted, 'POST', `${at.exchange}/exchange/returns`, { key, e164 })),
      stock: (wish) => call(z.record(z.string(), z.number()), 'POST', `${at.exchange}/exchange/stock`, wish),
      order: (key, e164, programme) =>
        done(call(Accepted, 'POST', `${at.exchange}/exchange/orders`, { key, e164, programme })),
    },
    registrar: {
      openAccount: (key, legalName) =>
        done(call(Accepted, 'POST', `${at.registrar}/registrar/accounts`, { key, legalName })),
      admitTo: (key, about) => done(call(Accepted, 'POST', `${at.registrar}/registrar/countries`, { key, ...about })),
      registerSenderId: (key, about) =>
        done(call(Accepted, 'POST', `${at.registrar}/registrar/sender-ids`, { key, ...about })),
      submitBrand: (key, filing) => done(call(Accepted, 'POST', `${at.registrar}/registrar/brands`, { key, filing })),
      askConfirmation: (key, about) =>
        done(call(Accepted, 'POST', `${at.registrar}/registrar/confirmations`, { key, ...about })),
      appealBrand: (key, about) => done(call(Accepted, 'POST', `${at.registrar}/registrar/appeals`, { key, ...about })),
      vetBrand: (key, about) => done(call(Accepted, 'POST', `${at.registrar}/registrar/vettings`, { key, ...about })),
      answerSuspension: (key, about) =>
        done(call(Accepted, 'POST', `${at.registrar}/registrar/answers`, { key, ...about })),
      renewCampaign: (key, about) =>
        done(call(Accepted, 'POST', `${at.registrar}/registrar/renewals`, { key, ...about })),
      verifyTollFree: (key, filing) =>
        done(call(Accepted, 'POST', `${at.registrar}/registrar/toll-free`, { key, filing })),
      submitCampaign: (key, filing) =>
        done(call(Accepted, 'POST', `${at.registrar}/registrar/campaigns`, { key, filing })),
      assignNumber: (key, e164, campaignKey, prepared) =>
        done(call(Accepted, 'POST', `${at.registrar}/registrar/assignments`, { key, e164, campaignKey, prepared })),
    },
    addresses: { check: (address) => call(AddressAnswer, 'POST', `${at.addresses}/addresses/checks`, address) },
    bureau: {
      portability: (e164s) => call(z.array(Portability), 'POST', `${at.bureau}/bureau/portability`, { numbers: e164s }),
      record: async (e164s) =>
        (
          await call(z.object({ record: RecordAnswer.nullable() }), 'POST', `${at.bureau}/bureau/records`, {
            numbers: e164s,
          })
        ).record,
      submit: (key, filing) => done(call(Accepted, 'POST', `${at.bureau}/bureau/ports`, { key, filing })),
      moveDate: (key, portKey, day) => done(call(Accepted, 'POST', `${at.bureau}/bureau/dates`, { key, portKey, day })),
      cancel: (key, portKey) => done(call(Accepted, 'POST', `${at.bureau}/bureau/cancellations`, { key, portKey })),
      answerPortOut: (key, attempt, refuse) =>
        done(call(Accepted, 'POST', `${at.bureau}/bureau/port-outs/answers`, { key, attempt, refuse })),
      snapBack: (key, portKey) => done(call(Accepted, 'POST', `${at.bureau}/bureau/returns`, { key, portKey })),
    },
    hosting: {
      test: (e164) => call(HostingTest, 'POST', `${at.hosting}/hosting/tests`, { e164 }),
      callWithCode: (key, e164) => done(call(Accepted, 'POST', `${at.hosting}/hosting/calls`, { key, e164 })),
      confirmCode: async (e164, code) =>
        (await call(z.object({ right: z.boolean() }), 'POST', `${at.hosting}/hosting/codes`, { e164, code })).right,
      file: (key, filing) => done(call(Accepted, 'POST', `${at.hosting}/hosting/filings`, { key, filing })),
      end: (key, e164) => done(call(Accepted, 'POST', `${at.hosting}/hosting/ends`, { key, e164 })),
    },
    lines: {
      lookup: (key, e164) => call(LineAnswer, 'POST', `${at.lines}/lines/lookups`, { key, e164 }),
      reassigned: (key, e164, day) => call(ReassignedReply, 'POST', `${at.lines}/lines/reassigned`, { key, e164, day }),
    },
    mail: {
      send: (key, to, raw) => done(call(Accepted, 'POST', `${at.mail}/mail/messages`, { key, to, raw })),
    },
    network: {
      send: (text) => done(call(Accepted, 'POST', `${at.network}/network/texts`, text)),
      sendLot: async (texts) => {
        const { answers } = await call(LotAnswer, 'POST', `${at.network}/network/lots`, { texts });
        if (answers.length !== texts.length) throw new GatewayDown('the network answered for other texts');
        return answers.map((a) => {
          const refusal = 'accepted' in a ? null : errorOf(a.status, a, a.retryAfterMs);
          if (refusal instanceof GatewayDown) throw refusal;
          return refusal;
        });
      },
      known: async (keys) =>
        (await call(z.object({ known: z.array(z.string()) }), 'POST', `${at.network}/network/texts/known`, { keys }))
          .known,
      meetCalls: (key, e164, how) => done(call(Accepted, 'POST', `${at.network}/network/calls`, { key, e164, ...how })),
      sendCode: (key, to, text) => done(call(Accepted, 'POST', `${at.network}/network/codes`, { key, to, text })),
    },
    feed: {
      after: (seq, limit) => call(Feed, 'GET', `${at.feed}/events?after=${seq}&limit=${limit}`),
      wait: async (seq, ms, signal) => {
        const url = `${at.feed}/events?after=${seq}&limit=1&wait=${Math.round(ms)}`;
        await call(Feed, 'GET', url, undefined, AbortSignal.any([signal, AbortSignal.timeout(ms + TIMEOUT_MS)]));
      },
    },
    simulation:
      simulation === null
        ? null
        : {
            setClock: (now) => call(ClockAnswer, 'PUT', `${simulation}/clock`, { now }),
            remember: (past) => done(call(Accepted, 'PUT', `${simulation}/past`, past)),
          },
  };
}
