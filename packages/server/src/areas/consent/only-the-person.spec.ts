import { randomUUID } from 'node:crypto';
import fc from 'fast-check';
import { dayIn, PURPOSES } from '@long-gate/core';
import { Problem } from '../../platform/problem.js';
import { Office } from '../../testing/office.js';
import { BOTH_KINDS, heronPage } from '../../testing/opt-in-page.js';

const ADA = '+12125550101';
const BRAM = '+12125550102';
const HOUR = 3_600_000;
const WORDS =
  'Text me offers and news, about four a month. I agree that Heron Lane Bakery LLC may send me automated promotional texts at this number. Agreeing is not a condition of any purchase. Message and data rates may apply. Reply HELP for help, STOP to end. Privacy and terms: heron.example.';

const FILLED_IN = 'somebody fills in the page with her number';
/** What anybody but Ada can do, and what she can say that is no yes; each by its name. */
const ACTS: Record<string, (o: Office) => Promise<unknown>> = {
  [FILLED_IN]: async (o) =>
    o.app.publicPages.optIn(
      'heron',
      {
        phone: ADA,
        firstName: 'Ada',
        purposes: ['informational', 'promotional'],
        words: (await o.app.publicPages.publicPage('heron')).words,
      },
      { ip: '192.0.2.9', agent: 'somebody' },
    ),
  'somebody leaves by the page with her number': (o) =>
    o.app.publicPages.optOut('heron', ADA, { ip: '192.0.2.9', agent: 'somebody' }),
  'another handset says YES': (o) => o.text(BRAM, 'YES'),
  'another handset says START': (o) => o.text(BRAM, 'START'),
  'she asks something': (o) => o.text(ADA, 'When does the bakery open on Sundays?'),
  'she says what may be a wish': (o) => o.text(ADA, 'you people text a lot'),
  'she says no': (o) => o.text(ADA, 'STOP'),
  'she calls': (o) => o.hear({ kind: 'call.inbound', key: randomUUID(), from: ADA, to: o.ours, pressed: '' }),
  'staff read what she wrote as no wish': async (o) => {
    for (const x of (await o.app.reviews.list(o.business)).items)
      await o.app.replies.decide(o.admin, o.business, x.id, 'no wish');
  },
  'staff note what she said': (o) =>
    o.app.replies.recordWish(o.admin, o.business, {
      e164: ADA,
      purposes: [...PURPOSES],
      how: 'phone call',
      words: 'She asked to be left alone.',
    }),
  'a list claims that she agreed': (o) => o.claimed(ADA, 'Claimed'),
  'a list says that she had opted out': (o) =>
    o.app.optOutLists.bring(
      o.admin,
      o.business,
      {
        origin: 'earlier provider',
        source: 'their export',
        datedOn: '2030-03-01',
        name: 'gone.csv',
        base64: Buffer.from(ADA).toString('base64'),
      },
      randomUUID(),
    ),
  'staff record a purchase of hers': (o) =>
    o.app.relationships.record(o.admin, o.business, {
      phone: ADA,
      kind: 'purchase',
      happenedOn: '2030-03-01',
      reference: '',
    }),
  'an hour goes by': (o) => o.later(HOUR),
  'four days go by': (o) => o.later(96 * HOUR),
  'the ledger is folded anew': (o) => o.app.ledger.rebuild(o.business, true),
  'the application ends and begins anew': (o) => o.again(),
};
/** Nor may staff file a form for somebody who has said no: only she can speak. */
const FORM = 'staff file a form with her name';
const LATER: typeof ACTS = {
  ...ACTS,
  [FORM]: (o) =>
    o.app.forms.file(
      o.admin,
      o.business,
      {
        whom: { listId: null, filter: null, e164s: [ADA], behind: null, claimedBy: null },
        purposes: ['informational', 'promotional'],
        signedOn: dayIn(o.now, 'America/New_York'),
        disclosure: WORDS,
        name: 'form.pdf',
        bytes: Buffer.from('%PDF-1.4 a form'),
      },
      randomUUID(),
    ),
};

describe('a purpose', () => {
  /** Does what is named, in its order, and says after which of it a purpose stood open that only Ada may open. */
  const openedBy = async (acts: typeof ACTS, names: readonly string[], first: (o: Office) => Promise<unknown>) => {
    const o = await Office.open();
    try {
      await o.app.pages.add(o.admin, o.business, heronPage(o.number, { purposes: BOTH_KINDS }));
      await o.contact(ADA, []);
      await first(o);
      for (const name of names) {
        await acts[name]?.(o).catch((error: unknown) => {
          // What is refused in words was not done.
          if (!(error instanceof Problem)) throw error;
        });
        await o.settle();
        const { informational, promotional } = await o.state(ADA);
        const id = (await o.app.contacts.names(o.app.platform.db, o.business, [ADA])).get(ADA)?.contactId ?? '';
        const { verdicts } = await o.app.edits.detail(o.app.platform.db, o.business, id);
        const passes = [verdicts.informational, verdicts.promotional].some((v) => v.result === 'pass');
        if (informational === 'granted' || promotional === 'granted' || passes) return name;
      }
      return null;
    } finally {
      await o.close();
    }
  };
  const someOf = (acts: typeof ACTS) => fc.array(fc.constantFrom(...Object.keys(acts)), { minLength: 4, maxLength: 9 });

  it('is opened by nobody but the person, in whatever order others fill in, claim, call and file', async () => {
    await fc.assert(
      fc.asyncProperty(someOf(ACTS), async (names) => {
        expect(await openedBy(ACTS, names, () => Promise.resolve()))
          .withContext(names.join('; '))
          .toBeNull();
      }),
      { numRuns: 12 },
    );
  });

  it('stays shut for whoever said no, also where staff file forms', async () => {
    await fc.assert(
      fc.asyncProperty(someOf(LATER), async (names) => {
        expect(await openedBy(LATER, [...names, 'four days go by', FORM], (o) => o.text(ADA, 'STOP')))
          .withContext(names.join('; '))
          .toBeNull();
      }),
      { numRuns: 12 },
    );
  });

  it('is opened by the person, whatever others did before', async () => {
    await fc.assert(
      fc.asyncProperty(someOf(ACTS), async (all) => {
        // Three times a day of the real clock a number may be filled in: the third is hers.
        let filled = 0;
        const names = all.filter((x) => x !== FILLED_IN || ++filled <= 2);
        const acts = { ...ACTS, 'she fills in the page and says YES': herself };
        // She may have been asked that day already; on the next she is asked again.
        const opened = await openedBy(acts, [...names, 'four days go by', 'she fills in the page and says YES'], () =>
          Promise.resolve(),
        );
        expect(opened).withContext(names.join('; ')).toBe('she fills in the page and says YES');
      }),
      { numRuns: 6 },
    );
  });
});

async function herself(o: Office): Promise<void> {
  await ACTS[FILLED_IN]?.(o);
  await o.settle();
  await o.text(ADA, 'YES');
}
