import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { buildApp, readConfig } from '@long-gate/server';
import { atMost, beside } from '../measure.js';
import { Outside } from './outside.js';
import { Bare, bareIntake } from './bare.js';
import { further, number, person, PREFERENCES, seat, TAGS, tags } from './people.js';

export const ACTOR = { id: 'bench', name: 'bench' };

/** An application with a business of so many contacts, brought in through the intake. */
export class World {
  private constructor(
    readonly n: number,
    readonly dir: string,
    readonly outside: Outside,
    readonly app: Awaited<ReturnType<typeof buildApp>>,
    readonly business: string,
    readonly bare: Bare,
  ) {}
  everyone = '';
  /** One of the tags that a quarter of them have. */
  tag = '';

  /** Whoever sends. */
  get admin() {
    return { ...ACTOR, email: 'bench@bench.example', roles: { [this.business]: 'administrator' as const } };
  }

  static async open(n: number): Promise<World> {
    const dir = await mkdtemp(path.join(tmpdir(), 'long-gate-bench-'));
    const outside = await Outside.start({
      dataDir: path.join(dir, 'outside'),
      port: 0,
      seed: 'bench',
      queueLimit: 1e9,
      suspendAfter: 0,
    });
    const config = readConfig(
      { LONG_GATE_DATA: path.join(dir, 'data'), LONG_GATE_LOG: 'error', LONG_GATE_OUTSIDE_URL: outside.url },
      '',
    );
    const app = await buildApp({ ...config, demo: false });
    const business = await app.platform.db.write((w) =>
      app.businesses.add(w, ACTOR, { legalName: 'Bench LLC', nameLine: 'Bench', form: 'private company' }),
    );
    return new World(n, dir, outside, app, business, await Bare.open(path.join(dir, 'data', 'long-gate.sqlite')));
  }

  /** Brings everyone in, beside a bare prepared insert of the same rows into the same tables with all their indexes. */
  async bringIn(): Promise<void> {
    const { app, business, n } = this;
    const others = new Meanwhile(this);
    let memory = 0;
    const sample = setInterval(() => (memory = Math.max(memory, process.memoryUsage().rss)), 50);
    const preference = await app.fields.add(ACTOR, business, {
      name: 'Preference',
      kind: 'choice',
      choices: [...PREFERENCES],
      outcome: false,
    });
    const place = await app.fields.add(ACTOR, business, { name: 'Place', kind: 'text', choices: [], outcome: false });
    const at = performance.now();
    const intake = await app.intakes.begin(ACTOR, business, {
      fileName: 'bench.csv',
      total: n,
      listName: 'Everyone',
      consentClaim: '',
    });
    for (let i = 0; i < n; i += 2000)
      await app.intakes.take(
        business,
        intake.id,
        Array.from({ length: Math.min(2000, n - i) }, (_, k) => ({
          row: i + k + 1,
          phone: number(i + k),
          ...person(i + k),
          stateCode: '',
          keep: true,
          more: {
            own: { [preference.id]: PREFERENCES[(i + k) % PREFERENCES.length] ?? '', [place.id]: seat(i + k) },
            tags: tags(i + k),
            ...(further(i + k) === '' ? {} : { further: further(i + k) }),
          },
        })),
      );
    await app.intakes.store(ACTOR, business, intake.id);
    while ((await app.intakes.get(business, intake.id)).state !== 'stored') await app.platform.jobs.workOne();
    const ours = performance.now() - at;
    clearInterval(sample);
    atMost(n, 'intake: another’s small write meanwhile, 95 of 100', await others.end(), 100);
    atMost(n, 'intake: memory of the process', memory / 2 ** 20, 600, 'MB');
    this.everyone = intake.listId ?? '';
    const all = await app.lists.all(app.platform.db, business);
    this.tag = all.find((l) => l.name === TAGS[0])?.id ?? '';
    beside(n, 'intake: all checks, duplicates, storing', ours, await bareIntake(this.bare, this.dir, n), 3);
  }

  /** What lookups, consent and delivery would have left, spread by fixed steps. */
  async live(): Promise<void> {
    await this.app.platform.db.write((w) =>
      w.run(
        `UPDATE contact_number SET looked_up_at = CASE WHEN id % 50 = 3 THEN NULL ELSE $1 END, line_type = 'mobile', textable = CASE WHEN id % 50 = 3 THEN 'unknown' WHEN id % 20 = 0 THEN 'no' ELSE 'yes' END,
           carrier_kind = CASE id % 5 WHEN 0 THEN 'C' WHEN 1 THEN 'B' WHEN 2 THEN 'B' ELSE 'A' END, faults_in_review = id % 5000 = 7,
           consent_informational = CASE id % 7 WHEN 0 THEN 'none' ELSE 'granted' END, consent_promotional = CASE id % 9 WHEN 0 THEN 'revoked' WHEN 1 THEN 'none' WHEN 2 THEN 'unproven' ELSE 'granted' END`,
        [this.app.platform.clock.now()],
      ),
    );
    // So much at once leaves a long journal behind, which no day of the product's does.
    await this.app.platform.db.scrub();
  }

  async close(): Promise<void> {
    await this.bare.close();
    await this.app.close();
    await this.outside.stop();
    await rm(this.dir, { recursive: true, force: true });
  }
}

/** Somebody else’s small writes and reads while something heavy runs: the 95th percentile of what they wait. */
export class Meanwhile {
  private readonly times: number[] = [];
  private running = true;
  private readonly loop: Promise<void>;

  constructor(world: World, write = true) {
    const { db } = world.app.platform;
    this.loop = (async () => {
      while (this.running) {
        const at = performance.now();
        if (write)
          await db.write((w) =>
            w.run(
              `INSERT INTO setting (name, value) VALUES ('bench', '1') ON CONFLICT (name) DO UPDATE SET value = value`,
            ),
          );
        else await world.app.businesses.row(db, world.business);
        this.times.push(performance.now() - at);
        await new Promise((r) => setTimeout(r, 20));
      }
    })();
  }

  async end(): Promise<number> {
    this.running = false;
    await this.loop;
    this.times.sort((a, b) => a - b);
    return this.times[Math.floor(this.times.length * 0.95)] ?? 0;
  }
}
