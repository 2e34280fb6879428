import { createHash, createPublicKey, hash, verify } from 'node:crypto';
import { access } from 'node:fs/promises';
import path from 'node:path';
import fc from 'fast-check';
import type { EvidenceRequest } from '@long-gate/contracts';
import {
  checkPack,
  PACK_FILES,
  writeArchive,
  type ArchiveFile,
  type CheckTools,
  type PackVerdict,
} from '@long-gate/core';
import type { Person } from '../../../platform/http/route.js';
import { withoutGuard } from '../../../testing/database.js';
import { heronPage } from '../../../testing/opt-in-page.js';
import { filesIn, linesIn, textIn } from '../../../testing/evidence-pack.js';
import { Office } from '../../../testing/office.js';
import { registryOf } from '../../../testing/registry.js';
import { ChainDigests } from './chain-digests.js';

const ADA = '+12125550110';
const BRAM = '+12125550111';
const DAY = 86_400_000;
/** What Node’s own cryptography says, beside which the pack’s page has another. */
const TOOLS: CheckTools = {
  sha256: (text) => hash('sha256', text, 'hex'),
  digest: (bytes) => createHash('sha256').update(bytes).digest('hex'),
  verify: (key, message, signature) =>
    verify(
      null,
      message,
      createPublicKey({
        format: 'der',
        type: 'spki',
        key: Buffer.concat([Buffer.from('302a300506032b6570032100', 'hex'), key]),
      }),
      signature,
    ),
};
const PAGE = {
  intro: 'Word of each bake & more.',
  purposes: [{ purpose: 'informational' as const, label: 'Tell me of "order updates"', frequency: 'a few a week' }],
};

describe('evidence of consent', () => {
  let o: Office;
  let viewer: Person;
  beforeEach(async () => {
    o = await Office.open();
    viewer = await o.person('Vera', 'viewer');
    await o.contact(ADA, ['informational', 'promotional'], { firstName: 'Ada' });
    await o.contact(BRAM, ['informational'], { firstName: 'Bram' });
  });
  afterEach(() => o.close());

  const wish = (over: object = {}) => ({
    asker: 'our own file' as const,
    who: '',
    reference: '',
    question: '',
    dueOn: null,
    numbers: ADA,
    ...over,
  });
  const ask = async (over: object = {}, key = 'asked-once'): Promise<EvidenceRequest> => {
    const { id } = await o.app.evidence.ask(viewer, o.business, wish(over), key);
    await o.settle();
    return found(id);
  };
  const found = async (id: string): Promise<EvidenceRequest> => {
    const request = (await o.app.evidence.list(o.business, { limit: 10 })).items.find((x) => x.id === id);
    if (!request) throw new Error('Nothing was asked.');
    return request;
  };
  const fetched = async (request: EvidenceRequest, at = 0): Promise<Buffer> =>
    (await o.app.packs.fetch(viewer, o.business, request.packs[at]?.id ?? '')).bytes;
  const failed = (v: PackVerdict): string => v.checks.find((c) => !c.ok)?.what ?? 'nothing';

  describe('a pack', () => {
    it('tells every lookup of a number, and when the gate said what it said', async () => {
      const lookup = (lineType: 'mobile' | 'landline'): Promise<void> =>
        o.app.platform.db.write((w) =>
          o.app.contacts.storeLookup(w, o.business, [
            { e164: ADA, lineType, carrier: 'Harth', carrierKind: 'A', reachable: true, askedAt: o.now },
          ]),
        );
      await o.later(DAY);
      await lookup('landline');
      // Something else that changes is no lookup.
      await o.app.platform.db.write((w) => o.app.contacts.setWishInReview(w, o.business, ADA, true));
      await o.later(DAY);
      await lookup('mobile');
      await o.text(ADA, 'STOP');
      await o.later(60_000);
      const bytes = await fetched(await ask());
      const lookups = linesIn(bytes, PACK_FILES.lookups);
      expect(lookups.map((x) => x['lineType'])).toEqual(['mobile', 'landline', 'mobile']);
      const at = lookups.map((x) => Number(x['at']));
      expect(at).toEqual([...at].sort((a, b) => a - b));
      const answer = linesIn(bytes, PACK_FILES.texts).find((t) => t['kind'] === 'opt-out confirmation');
      expect(answer?.['judgedAt']).toBe(answer?.['sentAt']);
    });

    it('tells which lists name a number, since when they kept something from it, and what excepts it', async () => {
      await o.later(DAY);
      const list = await registryOf(o, ADA, BRAM);
      const listedAt = o.now;
      const sale = { e164: ADA, what: 'purchase', on: '2030-01-15', about: 'ticket 4411', file: '' };
      const note = { phone: ADA, kind: 'purchase' as const, happenedOn: sale.on, reference: sale.about };
      const made = await o.app.relationships.record(o.admin, o.business, note);
      await o.app.relationships.record(o.admin, o.business, { ...note, phone: BRAM, reference: 'of somebody else' });
      await o.app.relationships.withdraw(o.admin, o.business, made.id, 'The ticket was given back.');
      const suppression = (bytes: Uint8Array) => linesIn(bytes, PACK_FILES.suppression);
      const lines = suppression(await fetched(await ask()));
      const kept = { e164: ADA, what: 'kept off', keeps: 'solicitations' };
      expect(lines[0]).toEqual(
        jasmine.objectContaining({ what: 'on a list', list: 'National list', kind: 'national', datedOn: '2030-03-10' }),
      );
      expect(lines[1]).toEqual(
        jasmine.objectContaining({
          ...sale,
          exceptsUntil: Date.parse('2031-07-15T04:00:00Z'),
          withdrawn: jasmine.objectContaining({ by: o.admin.name, why: 'The ticket was given back.' }),
        }),
      );
      expect(lines.slice(2)).toEqual([jasmine.objectContaining({ ...kept, until: null })]);
      expect(Math.abs(Number(lines[2]?.['from']) - listedAt)).toBeLessThan(60_000);

      await o.later(DAY);
      const { version } = (await o.app.suppression.list(o.business)).find((l) => l.id === list) ?? { version: 0 };
      await o.app.suppression.drop(o.admin, o.business, list, version);
      await o.settle();
      const after = suppression(await fetched(await ask({}, 'after-the-list')));
      expect(after.map((x) => x['what'])).toEqual(['purchase', 'kept off']);
      expect(Number(after[1]?.['until']) - Number(after[1]?.['from'])).toBeGreaterThan(DAY - 60_000);
    });

    it('holds in every question, is made by a viewer, and is on the trail when made and when fetched', async () => {
      await o.text(ADA, 'When do you open?');
      await o.text(ADA, 'STOP');
      await o.later(60_000);
      const request = await ask({ asker: 'lawyer', who: 'Fenwick Orr', numbers: '(212) 555-0110' });
      expect(request.packs.map((k) => k.state)).toEqual(['ready']);
      const bytes = await fetched(request);
      const verdict = checkPack(bytes, TOOLS);
      expect(verdict.checks.map((c) => `${c.what} ${c.ok}`)).toEqual(
        ['archive', 'signature', 'files', 'heads', 'chain', 'events', 'standing', 'documents'].map((w) => `${w} true`),
      );
      expect(verdict.ok).toBeTrue();
      expect(verdict.manifest?.numbers).toEqual([ADA]);
      expect(verdict.fingerprint).toBe((await o.app.evidence.list(o.business, { limit: 1 })).fingerprint);
      expect(createHash('sha256').update(bytes).digest('hex')).toBe(request.packs[0]?.sha256 ?? '');
      const events = linesIn(bytes, PACK_FILES.events);
      expect(events.map((e) => e['kind'])).toContain('revoked');
      const texts = linesIn(bytes, PACK_FILES.texts);
      expect(texts.map((t) => [t['direction'], t['text']])).toContain(['in', 'STOP']);
      expect(texts.find((t) => t['kind'] === 'opt-out confirmation')?.['gate']).toEqual({
        verdict: 'pass',
        post: '',
        why: '',
      });
      expect(JSON.parse(textIn(bytes, PACK_FILES.standing))).toEqual([
        { e164: ADA, conversational: 'revoked', informational: 'revoked', promotional: 'revoked' },
      ]);
      expect(linesIn(bytes, PACK_FILES.rules).filter((x) => x['of'] === 'rules').length).toBeGreaterThan(5);
      expect(textIn(bytes, PACK_FILES.readable).slice(0, 5)).toBe('%PDF-');
      const trail = await o.app.platform.db.all<{ action: string; actor_name: string }>(
        `SELECT action, actor_name FROM audit WHERE object_kind = 'evidence request' ORDER BY n`,
      );
      expect(trail.map((t) => `${t.actor_name}: ${t.action}`)).toEqual([
        'Vera: evidence asked for',
        'Vera: evidence pack made',
        'Vera: evidence pack fetched',
      ]);
    });

    it('tells nothing of anybody else: others’ events are digests alone', async () => {
      const bytes = await fetched(await ask());
      const all = await o.app.ledger.verify(o.business);
      expect(textIn(bytes, PACK_FILES.chain).trim().split('\n').length).toBe(all.ok ? all.count : -1);
      for (const [name, content] of filesIn(bytes)) {
        const words = Buffer.from(content).toString('latin1');
        expect(words.includes(BRAM.slice(1)) || words.includes('Bram'))
          .withContext(name)
          .toBeFalse();
      }
    });

    it('fails its checker with any one byte changed, wherever that is', async () => {
      const bytes = await fetched(await ask());
      fc.assert(
        fc.property(fc.nat(bytes.length - 1), fc.integer({ min: 1, max: 255 }), (at, by) => {
          const other = Buffer.from(bytes);
          other[at] = (other[at] ?? 0) ^ by;
          return !checkPack(other, TOOLS).ok;
        }),
        // Its ends, where the archive’s own lists are, are as likely as its long middle.
        { numRuns: 150, examples: [0, 4, 10, bytes.length - 1, bytes.length - 12].map((at) => [at, 1]) },
      );
      expect(checkPack(bytes.subarray(0, bytes.length - 1), TOOLS).ok).toBeFalse();
      expect(checkPack(Buffer.concat([bytes, Buffer.from([0])]), TOOLS).ok).toBeFalse();
    });

    it('fails where a file of it was written anew, and the archive and its list with it', async () => {
      const bytes = await fetched(await ask());
      const anew = (change: (files: ArchiveFile[]) => void): Uint8Array => {
        const files = [...filesIn(bytes)].map(([name, content]) => ({ name, bytes: content }));
        change(files);
        return Buffer.concat(writeArchive(files));
      };
      const put = (files: ArchiveFile[], name: string, words: string): void => {
        const file = files.find((f) => f.name === name);
        if (file) file.bytes = Buffer.from(words);
      };
      expect(
        failed(
          checkPack(
            anew(() => undefined),
            TOOLS,
          ),
        ),
      ).toBe('nothing');
      const granted = textIn(bytes, PACK_FILES.events).replace('"granted"', '"revoked"');
      expect(
        failed(
          checkPack(
            anew((f) => put(f, PACK_FILES.events, granted)),
            TOOLS,
          ),
        ),
      ).toBe('files');
      expect(
        failed(
          checkPack(
            anew((f) => f.pop()),
            TOOLS,
          ),
        ),
      ).toBe('signature');
      expect(
        failed(
          checkPack(
            anew((f) => f.push({ name: 'more.txt', bytes: Buffer.from('more') })),
            TOOLS,
          ),
        ),
      ).toBe('files');
      expect(
        failed(
          checkPack(
            anew((f) =>
              f.splice(
                f.findIndex((x) => x.name === PACK_FILES.texts),
                1,
              ),
            ),
            TOOLS,
          ),
        ),
      ).toBe('files');
    });

    it('fails also where whoever signs packs changed it: the ledger was signed before', async () => {
      await o.app.pages.add(o.admin, o.business, heronPage(o.number, PAGE));
      const { words } = await o.app.publicPages.publicPage('heron');
      const form = { phone: ADA, firstName: '', purposes: ['informational' as const], words };
      await o.text(ADA, 'STOP');
      await o.app.publicPages.optIn('heron', form, { ip: '192.0.2.7', agent: 'a phone' });
      const bytes = await fetched(await ask());
      /** The same archive with a file changed, its digest put into the list, and the list signed by our own key. */
      const signedAnew = (name: string, change: (text: string) => string): Uint8Array => {
        const files = new Map<string, Buffer>([...filesIn(bytes)].map(([n, b]) => [n, Buffer.from(b)]));
        const full = [...files.keys()].find((n) => n.startsWith(name)) ?? '';
        const before = files.get(full)?.toString() ?? '';
        expect(change(before)).withContext(name).not.toBe(before);
        files.set(full, Buffer.from(change(before)));
        const manifest = JSON.parse(files.get(PACK_FILES.manifest)?.toString() ?? '') as {
          files: { name: string; size: number; sha256: string }[];
        };
        for (const f of manifest.files) f.sha256 = TOOLS.digest(files.get(f.name) ?? Buffer.alloc(0));
        const list = Buffer.from(JSON.stringify(manifest));
        files.set(PACK_FILES.manifest, list);
        files.set(PACK_FILES.signature, o.app.platform.heads.signature(list));
        return Buffer.concat(writeArchive([...files].map(([n, b]) => ({ name: n, bytes: b }))));
      };
      const fails = (name: string, change: (text: string) => string): string =>
        failed(checkPack(signedAnew(name, change), TOOLS));
      expect(fails(PACK_FILES.texts, (t) => `${t}{}\n`))
        .withContext('what is not of the ledger is its word')
        .toBe('nothing');
      expect(fails(PACK_FILES.events, (t) => t.replace('"kind":"revoked"', '"kind":"expired"'))).toBe('chain');
      const without = (t: string) => t.split('\n').filter((l) => !l.includes('"kind":"revoked"'));
      expect(fails(PACK_FILES.events, (t) => without(t).join('\n'))).toBe('standing');
      expect(fails(PACK_FILES.chain, (t) => t.replace(/^[0-9a-f]{8}/, '00000000'))).toBe('chain');
      expect(fails(PACK_FILES.chain, (t) => t.split('\n').slice(1).join('\n'))).toBe('chain');
      expect(fails(PACK_FILES.heads, (t) => t.replace('"at":', '"at":1'))).toBe('heads');
      expect(fails(PACK_FILES.standing, (t) => t.replace('"promotional":"revoked"', '"promotional":"granted"'))).toBe(
        'standing',
      );
      expect(fails('pages/', (t) => t.replace('Word of each bake', 'Word of nothing'))).toBe('documents');
    });

    it('shows the page as it was, however often it was changed since', async () => {
      const page = await o.app.pages.add(o.admin, o.business, heronPage(o.number, PAGE));
      const { words } = await o.app.publicPages.publicPage('heron');
      const form = { phone: '212 555 0120', firstName: 'Cleo', purposes: ['informational' as const], words };
      await o.app.publicPages.optIn('heron', form, { ip: '192.0.2.7', agent: 'a phone' });
      await o.app.pages.edit(
        o.admin,
        o.business,
        page.id,
        page.version,
        heronPage(o.number, { ...PAGE, title: 'Another title' }),
      );
      const bytes = await fetched(await ask({ numbers: '+12125550120' }));
      expect(checkPack(bytes, TOOLS).ok).toBeTrue();
      const shown = [...filesIn(bytes)].filter(([name]) => name.startsWith('pages/'));
      expect(shown.length).toBe(1);
      const html = Buffer.from(shown[0]?.[1] ?? []).toString();
      expect(html).toContain('<h1>Texts from the bakery</h1>');
      expect(html).toContain('Word of each bake &amp; more.');
      expect(html).toContain('order updates&quot;');
      expect(html).not.toContain('Another title');
      // The other is kept as well, and names neither's words its own.
      const { db } = o.app.platform;
      expect((await db.all('SELECT sha256 FROM page_version')).length).toBe(2);
    });

    it('holds the document a form was filed with, by its digest', async () => {
      const bytes = Buffer.from('%PDF-1.4 a form that was signed');
      await o.app.forms.file(
        o.admin,
        o.business,
        {
          whom: { listId: null, filter: null, e164s: [BRAM], behind: null, claimedBy: null },
          purposes: ['informational'],
          signedOn: '2030-03-01',
          disclosure:
            'Texts about orders from Heron Lane Bakery LLC, about four a month. Message and data rates may apply. Reply HELP for help, STOP to end. Privacy and terms: heron.example.',
          name: 'form.pdf',
          bytes,
        },
        'filed-once',
      );
      await o.settle();
      const pack = await fetched(await ask({ numbers: BRAM }));
      const digest = createHash('sha256').update(bytes).digest('hex');
      expect(Buffer.from(filesIn(pack).get(`documents/${digest}.pdf`) ?? []).equals(bytes)).toBeTrue();
      expect(checkPack(pack, TOOLS).ok).toBeTrue();
    });

    it('is named by the day on which it was made where the business is', async () => {
      // Nine in the evening of 12 March in New York: in Greenwich it is the 13th.
      await o.later(9 * 3_600_000);
      const request = await ask();
      const { name } = await o.app.packs.fetch(viewer, o.business, request.packs[0]?.id ?? '');
      expect(name).toMatch(/^evidence-2030-03-12-\w{6}\.zip$/);
    });

    it('about many numbers holds just the same, and is set in a thread', async () => {
      const many = Array.from({ length: 55 }, (_, i) => `+12125550${130 + i}`);
      for (const e164 of many.slice(0, 3)) await o.contact(e164, ['promotional'], { firstName: 'Zoë 🎉' });
      const bytes = await fetched(await ask({ numbers: many.join('\n'), question: 'všechno' }));
      expect(checkPack(bytes, TOOLS).ok).toBeTrue();
      expect((JSON.parse(textIn(bytes, PACK_FILES.standing)) as unknown[]).length).toBe(55);
      expect(textIn(bytes, PACK_FILES.readable).slice(0, 5)).toBe('%PDF-');
    });

    it('holds the digests kept of others where something is done to their events later, and is not made of its own', async () => {
      const { app, business } = o;
      const signed = async () => ({ businessId: business, ...(await app.ledger.lastSigned(business)) });
      await app.ledger.signHeads(business);
      await new ChainDigests(app.platform, 1).keep(await signed());
      await app.platform.db.write(async (w) => {
        await withoutGuard(w, 'consent_event', 'consent_event_no_update');
        await w.run(`UPDATE consent_event SET kind = 'revoked' WHERE e164 = $1`, [BRAM]);
      });
      const verdict = checkPack(await fetched(await ask()), TOOLS);
      expect(verdict.checks.filter((c) => !c.ok)).toEqual([]);
      expect(verdict.ok).toBeTrue();
      const changed = await ask({ numbers: BRAM }, 'about-bram');
      expect(changed.packs.map((k) => k.state)).toEqual(['failed']);
      const job = await app.platform.jobs.one(app.platform.db, business, changed.packs[0]?.jobId ?? '');
      expect(job?.result).toContain('The ledger does not hold at event 2');
    });

    it('is not made of a ledger that is broken', async () => {
      const { db } = o.app.platform;
      await db.write(async (w) => {
        await withoutGuard(w, 'consent_event', 'consent_event_no_update');
        await w.run(`UPDATE consent_event SET kind = 'revoked' WHERE e164 = $1`, [BRAM]);
      });
      const request = await ask();
      expect(request.packs.map((k) => k.state)).toEqual(['failed']);
      const job = await o.app.platform.jobs.one(o.app.platform.db, o.business, request.packs[0]?.jobId ?? '');
      expect(job?.result).toContain('The ledger does not hold at event 2');
      await expectAsync(fetched(request)).toBeRejectedWithError(/could not be made/);
    });
  });

  describe('a request', () => {
    it('is refused where nothing was ever recorded, and noted once something is', async () => {
      const empty = await Office.open();
      try {
        const asks = () => empty.app.evidence.ask(viewer, empty.business, wish(), 'of-nothing');
        await expectAsync(asks()).toBeRejectedWithError(/No consent is on file yet.*Ask again once/);
        expect((await empty.app.evidence.list(empty.business, { limit: 10 })).items).toEqual([]);
        await empty.contact(BRAM, ['informational']);
        const { id } = await asks();
        await empty.settle();
        const [request] = (await empty.app.evidence.list(empty.business, { limit: 10 })).items;
        expect(request?.id).toBe(id);
        expect(request?.packs.map((k) => [k.state, k.events])).toEqual([['ready', 0]]);
      } finally {
        await empty.close();
      }
    });

    it('is noted once under one key, and its pack made anew holds what came since', async () => {
      const first = await ask();
      const same = await ask();
      expect(same.packs.length).toBe(1);
      expect(same.id).toBe(first.id);
      await o.text(ADA, 'STOP');
      await o.later(60_000);
      await o.app.evidence.again(viewer, o.business, first.id, 'made-again');
      await o.app.evidence.again(viewer, o.business, first.id, 'made-again');
      await o.settle();
      const request = await found(first.id);
      expect(request.packs.map((k) => k.state)).toEqual(['ready', 'ready']);
      const [newer, older] = [await fetched(request, 0), await fetched(request, 1)];
      expect(textIn(older, PACK_FILES.events)).not.toContain('revoked');
      expect(textIn(newer, PACK_FILES.events)).toContain('revoked');
      for (const bytes of [newer, older]) expect(checkPack(bytes, TOOLS).ok).toBeTrue();
    });

    it('says of each number what is proven and what it rests on, and of what is no number why', async () => {
      const NOBODY = '+12125550199';
      const { items, unread } = await o.app.evidence.review(
        o.business,
        `${ADA}, 212-555-0111\n(212) 555 0199\n911-555-0142\nhello`,
      );
      expect(items.map((x) => [x.e164, x.name, x.informational.proven, x.promotional.proven])).toEqual([
        [ADA, 'Ada', true, true],
        [BRAM, 'Bram', true, false],
        [NOBODY, '', false, false],
      ]);
      expect(items[1]?.informational.by?.kind).toBe('granted');
      expect(items[2]?.informational.by).toBeNull();
      expect(unread.map((u) => u.raw)).toEqual(['911-555-0142', 'hello']);
      await expectAsync(ask({ numbers: `${ADA}\nhello` })).toBeRejectedWithError(/no telephone number/);
      expect((await o.app.evidence.list(o.business, { limit: 10 })).total).toBe(0);
    });

    it('with a deadline is a matter until it is answered: open, and after its day overdue', async () => {
      const matters = async () =>
        (await o.app.platform.matters.all(o.business))
          .filter((m) => m.link.startsWith('consent/evidence'))
          .map((m) => [m.weight, m.title]);
      const request = await ask({ asker: 'carrier', who: 'Tessary Wireless', dueOn: '2030-03-13' });
      expect(await matters()).toEqual([['hold', 'Tessary Wireless asks for proof of consent']]);
      // Noon of the 12th where the business is: the 13th ends 36 hours later.
      await o.later(1.4 * DAY);
      expect((await matters())[0]?.[0]).toBe('hold');
      await o.later(0.2 * DAY);
      expect((await matters())[0]?.[0]).toBe('stop');
      const answered = await o.app.evidence.answer(
        o.admin,
        o.business,
        request.id,
        request.version,
        'Sent to their portal.',
      );
      expect([answered.answeredBy, answered.answer]).toEqual([o.admin.name, 'Sent to their portal.']);
      expect(await matters()).toEqual([]);
      await expectAsync(
        o.app.evidence.answer(o.admin, o.business, request.id, request.version, 'Again, from another tab.'),
      ).toBeRejected();
    });
  });

  it('is not kept about somebody who was erased, and not longer than thirty days', async () => {
    const [ada, bram] = [await ask(), await ask({ numbers: BRAM }, 'asked-of-bram')];
    const file = (r: EvidenceRequest) =>
      access(path.join(o.dir, 'evidence', `${r.packs[0]?.id ?? ''}.zip`)).then(
        () => true,
        () => false,
      );
    expect([await file(ada), await file(bram)]).toEqual([true, true]);
    const contact = (await o.app.contacts.names(o.app.platform.db, o.business, [ADA])).get(ADA)?.contactId ?? '';
    await o.app.removals.erase(o.admin, o.business, contact, 'asked by e-mail');
    await o.settle();
    const now = await found(ada.id);
    expect(now.packs[0]?.state).toBe('gone');
    expect(now.e164s.some((n) => n.includes('2125550110'))).toBeFalse();
    expect([await file(ada), await file(bram)]).toEqual([false, true]);
    await expectAsync(fetched(now)).toBeRejectedWithError(/not kept any more/);
    await o.later(31 * DAY);
    expect((await found(bram.id)).packs[0]?.state).toBe('gone');
    expect(await file(bram)).toBeFalse();
  });
});
