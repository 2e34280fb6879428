import { atLeast, atMost } from '../measure.js';
import { Meanwhile, type World } from './world.js';

/** A dispatch to 20,000 people, judged and handed over to the stand-in, whose terms are raised. */
export async function dispatches(world: World): Promise<void> {
  const { app, business, n } = world;
  const { db, clock } = app.platform;
  const many = Math.min(n, 20_000);
  const number = 'num_bench';
  const campaign = (await app.registration.campaigns.add(world.admin, business, 'News', 'customer-care')).id;
  // The carriers' terms are raised: what is measured is ours.
  const sender = app.numbers.sender.bind(app.numbers);
  app.numbers.sender = async (...asked) => ({
    ...(await sender(...asked)),
    throughput: { campaignPerSecond: 1e6, numberPerSecond: 1e6, brandPerDay: 1e9 },
  });
  await db.write(async (w) => {
    await w.run(
      `UPDATE business SET account_state = 'open', balance = 1000000000000, transactional_any_hour = 1 WHERE id = $1`,
      [business],
    );
    await w.run(`UPDATE campaign SET state = 'registered' WHERE id = $1`, [campaign]);
    await w.run(
      `INSERT INTO number (id, business_id, e164, state, ordered_at, active_at, campaign_id, tie_state) VALUES ($1,$2,'+12015550142','active',0,0,$3,'attached')`,
      [number, business, campaign],
    );
    await w.run(`INSERT INTO contact_list (id, business_id, name, created_at) VALUES ('lst_bench',$1,'Bench',1)`, [
      business,
    ]);
    await w.run(
      `INSERT INTO list_member (list_id, contact_id, sort_name) SELECT 'lst_bench', contact_id, sort_name FROM contact_number WHERE business_id = $1 AND textable = 'yes' AND consent_informational = 'granted' AND NOT faults_in_review ORDER BY id LIMIT ${many}`,
      [business],
    );
    await w.run(`UPDATE contact_number SET carrier_kind = 'A' WHERE business_id = $1`, [business]);
  });
  await world.outside.know('+12015550142');
  const d = await app.drafts.add(world.admin, business, {
    title: 'bench',
    text: 'The nine o’clock boat leaves at ten today.',
    purpose: 'informational',
    transactional: true,
    stopLine: true,
    numberId: number,
    audience: { include: ['lst_bench'], exclude: [] },
    override: '',
    category: '',
    effort: '',
  });
  await app.sending.send(world.admin, business, d.id, d.version);
  const counts = async (): Promise<Record<string, number>> => (await app.drafts.get(business, d.id)).counts;
  const people = (await counts())['judging'] ?? 0;
  let at = performance.now();
  while (((await counts())['judging'] ?? 0) > 0) await app.platform.jobs.workOne();
  atLeast(n, 'dispatch: judging', (people / (performance.now() - at)) * 1000, 5000, 'recipients a second');
  const ready = (await counts())['waiting'] ?? 0;
  if (ready === 0) throw new Error(`nobody waits: ${JSON.stringify(await counts())}`);
  const others = new Meanwhile(world);
  at = performance.now();
  while (((await counts())['waiting'] ?? 0) > 0) await app.handOver.work(false);
  atLeast(
    n,
    'dispatch: leaving (judged again, charged, handed over)',
    (ready / (performance.now() - at)) * 1000,
    500,
    'texts a second',
  );
  atMost(n, 'dispatch: another’s small write meanwhile, 95 of 100', await others.end(), 100);
  // All receipts at once.
  await clock.moveTo(clock.now() + 600_000);
  const { simulation } = app.platform.gateways;
  while (((await simulation?.setClock(clock.now()))?.nextDue ?? Infinity) <= clock.now());
  at = performance.now();
  const receipts = await app.platform.feed.dry();
  atLeast(n, 'dispatch: receipts taken in', (receipts / (performance.now() - at)) * 1000, 2000, 'receipts a second');
}
