import { atMost, beside, median, time } from '../measure.js';
import type { World } from './world.js';

const FULL = 'cn.*, c.first_name, c.last_name, c.email FROM contact_number cn JOIN contact c ON c.id = cn.contact_id';

type Filter = Parameters<World['app']['contacts']['page']>[1];

/** Pages, filters, search, counts and preview, each beside the best bare query. */
export async function questions(world: World): Promise<void> {
  const { app, business, bare, n } = world;
  const page = (f: Filter, cursor?: string) => app.contacts.page(business, f, cursor, 100);
  const bareRows = (where: string, bind: unknown[], index: string): Promise<unknown[]> =>
    bare.all(
      `SELECT ${FULL} WHERE cn.id IN (SELECT id FROM contact_number INDEXED BY ${index} WHERE business_id = ? AND ${where} ORDER BY sort_name, contact_id, id LIMIT 101)`,
      [business, ...bind],
    );

  const change = (sql: string): Promise<void> => app.platform.db.write((w) => w.run(sql));

  beside(
    n,
    'contacts: first page',
    await median(() => page({})),
    await median(() => bareRows('1', [], 'contact_number_order')),
    3,
  );
  const [late] = await bare.all<{ sort_name: string; contact_id: string; id: number }>(
    'SELECT sort_name, contact_id, id FROM contact_number INDEXED BY contact_number_order WHERE business_id = ? ORDER BY sort_name, contact_id, id LIMIT 1 OFFSET ?',
    [business, Math.floor(n * 0.95)],
  );
  const place = [late?.sort_name, late?.contact_id, late?.id];
  const cursor = Buffer.from(JSON.stringify(place)).toString('base64url');
  beside(
    n,
    'contacts: page at 95% of the list',
    await median(() => page({}, cursor)),
    await median(() => bareRows('(sort_name, contact_id, id) > (?,?,?)', place, 'contact_number_order')),
    3,
  );
  for (const [name, filter, where, index] of [
    ['textable no', { textable: 'no' }, "textable = 'no'", 'reference_no'],
    ['promotional revoked', { promotional: 'revoked' }, "consent_promotional = 'revoked'", 'reference_revoked'],
    ['informational none', { informational: 'none' }, "consent_informational = 'none'", 'reference_none'],
    ['three faults', { faults: 'yes' }, 'faults_in_review', 'reference_faults'],
  ] as const) {
    // The best index for a bare query is that of this very filter, which only the reference has.
    const ours = await median(() => page(filter));
    await change(`CREATE INDEX ${index} ON contact_number (business_id, sort_name, contact_id, id) WHERE ${where}`);
    beside(n, `contacts: filter ${name}`, ours, await median(() => bareRows(where, [], index)), 3);
    await change(`DROP INDEX ${index}`);
  }
  beside(
    n,
    'contacts: by list',
    await median(() => page({ list: world.everyone })),
    await median(() =>
      bare.all(
        `SELECT ${FULL} WHERE cn.contact_id IN (SELECT contact_id FROM list_member INDEXED BY list_member_order WHERE list_id = ? ORDER BY sort_name, contact_id LIMIT 101)`,
        [world.everyone],
      ),
    ),
    3,
  );
  const pairs: Filter[] = [
    { textable: 'no', promotional: 'revoked' },
    { textable: 'unknown', informational: 'none' },
    { textable: 'no,unknown', promotional: 'none,revoked', informational: 'none' },
    { list: world.everyone, textable: 'unknown' },
    { list: world.everyone, promotional: 'revoked' },
    { textable: 'yes', promotional: 'expired' },
    { tag: world.tag, promotional: 'none,revoked' },
    { tag: world.tag, textable: 'no,unknown', informational: 'none' },
  ];
  // The last but two leaves nobody; the rest are what people keep as views.
  const sorts = ['contact', '-contact', 'number', '-number', 'line', 'informational', '-promotional'] as const;
  let worst = { ms: 0, of: '' };
  for (const filter of pairs)
    for (const sort of sorts) {
      const { p95 } = await time(() => page({ ...filter, sort }), 10);
      if (p95 > worst.ms) worst = { ms: p95, of: JSON.stringify({ ...filter, sort }) };
    }
  console.log(worst.of);
  atMost(n, 'contacts: two filters, any sort, the slowest of fifty-six, 95 of 100', worst.ms, 150);

  const match = (grams: string): Promise<unknown[]> =>
    bare.all(
      `SELECT ${FULL} WHERE cn.id IN (SELECT cn.id FROM contact_search s CROSS JOIN contact_number cn ON cn.id = s.rowid WHERE s.contact_search MATCH ? AND cn.business_id = ? ORDER BY cn.sort_name, cn.contact_id LIMIT 101)`,
      [grams, business],
    );
  const grams = (q: string): string =>
    [...q]
      .slice(2)
      .map((_, i) => `"${q.slice(i, i + 3)}"`)
      .join(' AND ');
  for (const q of ['row 77 orrinsea', 'fenwharfby teasel', 'sea', '.mossgateen77', '8647', '+12125']) {
    const bareQ = q.replace('+', '');
    beside(
      n,
      `contacts: search “${q}”`,
      await median(() => page({ q }), 5),
      await median(() => match(grams(bareQ)), 5),
      3,
    );
  }

  const group = `SELECT textable, consent_informational, consent_promotional, faults_in_review, count(*) FROM contact_number WHERE business_id = ? GROUP BY 1, 2, 3, 4`;
  const scan = await median(() => bare.all(group, [business]), 3);
  beside(n, 'contacts: total and facets', await median(() => app.contacts.facets(business, {}), 3), scan, 2);
  beside(
    n,
    'contacts: total and facets of a list',
    await median(() => app.contacts.facets(business, { list: world.everyone }), 3),
    await median(
      () =>
        bare.all(
          `SELECT cn.textable, cn.consent_informational, cn.consent_promotional, cn.faults_in_review, count(*) FROM list_member m CROSS JOIN contact_number cn ON cn.contact_id = m.contact_id WHERE m.list_id = ? GROUP BY 1, 2, 3, 4`,
          [world.everyone],
        ),
      3,
    ),
    2,
  );
  const draft = {
    title: 'bench',
    text: 'Fares from $19: bench.example/x',
    purpose: 'promotional' as const,
    transactional: false,
    stopLine: true,
    numberId: null,
    audience: { include: [world.everyone], exclude: [] },
    override: '',
    category: '',
    effort: '',
  };
  beside(
    n,
    'gate preview',
    await median(() => app.preview.preview(business, draft), 3),
    await median(
      () =>
        bare.all(
          `SELECT cn.country, cn.zones, cn.states, cn.looked_up_at IS NOT NULL, cn.textable, cn.reachable, cn.trouble, cn.faults_in_review, cn.suppression, cn.related_until, cn.wish_in_review, cn.consent_conversational, cn.consent_informational, cn.consent_promotional, cn.carrier_kind, cn.promotional_cap_until, count(*)
         FROM contact_number cn WHERE cn.business_id = ? AND cn.contact_id IN (SELECT contact_id FROM list_member WHERE list_id = ?) GROUP BY 1,2,3,4,5,6,7,8,9,10,11,12,13,14,15,16`,
          [business, world.everyone],
        ),
      3,
    ),
    2,
  );
  beside(
    n,
    'coverage of all and of each list',
    await median(() => app.coverage.read(business), 3),
    await median(
      () =>
        bare.all(
          `SELECT country, looked_up_at IS NOT NULL, textable, reachable, trouble, faults_in_review, suppression, related_until, wish_in_review, consent_conversational, consent_informational, consent_promotional, refused_elsewhere, reassignment, count(*)
         FROM contact_number WHERE business_id = ? AND preferred GROUP BY 1,2,3,4,5,6,7,8,9,10,11,12,13,14`,
          [business],
        ),
      3,
    ),
    2,
  );
}
