import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { signalStore, withFeature, withProps } from '@ngrx/signals';
import { provideStore, Store } from '@ngrx/store';
import { ApiProblem } from '../../api/api';
import { LiveActions, liveFeature } from '../live.feature';
import { SessionFacade } from '../session.facade';
import { withBusiness } from './with-business';
import { withPages, type Page } from './with-pages';

interface Row {
  id: string;
  of: string;
}
/** Answers when the spec says so. */
class Server {
  asked: { q: string; cursor?: string; limit: number; answer: (page: Page<Row> | Error) => void }[] = [];
  load = (q: string, cursor: string | undefined, limit: number): Promise<Page<Row>> =>
    new Promise((resolve, reject) => {
      this.asked.push({
        q,
        limit,
        ...(cursor === undefined ? {} : { cursor }),
        answer: (page) => (page instanceof Error ? reject(page) : resolve(page)),
      });
    });
}
const page = (of: string, from: number, n: number, next: string | null, total = 250): Page<Row> => ({
  items: Array.from({ length: n }, (_, i) => ({ id: `${of}${from + i}`, of })),
  next,
  total,
});

describe('rows fetched page by page', () => {
  const filters = signal({ q: '' });
  const businessId = signal('biz_1');
  let server: Server;
  const Rows = signalStore(
    withBusiness(),
    withProps(() => ({ filters })),
    withFeature((store) =>
      withPages<Row, { q: string }>(store, {
        topics: ['contacts'],
        id: (r) => r.id,
        size: 100,
        load: (_, { q }, { cursor, limit }) => server.load(q, cursor, limit),
      }),
    ),
  );
  const settle = async (): Promise<void> => {
    TestBed.tick();
    await new Promise((r) => setTimeout(r, 0));
    TestBed.tick();
  };
  let rows: InstanceType<typeof Rows>;
  beforeEach(async () => {
    server = new Server();
    filters.set({ q: '' });
    businessId.set('biz_1');
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideStore({ [liveFeature.name]: liveFeature.reducer }),
        { provide: SessionFacade, useValue: { businessId } },
        Rows,
      ],
    });
    rows = TestBed.inject(Rows);
    await settle();
  });

  it('asks once, and shows what comes', async () => {
    expect(server.asked.length).toBe(1);
    expect(rows.loading()).toBeTrue();
    server.asked[0]?.answer(page('a', 0, 100, 'c1'));
    await settle();
    expect(rows.rows().length).toBe(100);
    expect(rows.total()).toBe(250);
    expect(rows.ended()).toBeFalse();
  });

  it('fetches on from where it ended, one page at a time, and never shows a row twice', async () => {
    server.asked[0]?.answer(page('a', 0, 100, 'c1'));
    await settle();
    rows.more();
    rows.more();
    await settle();
    expect(server.asked.map((a) => a.cursor)).toEqual([undefined, 'c1']);
    // A row that came in between has pushed one over the edge of the page.
    server.asked[1]?.answer(page('a', 99, 100, null));
    await settle();
    expect(rows.rows().length).toBe(199);
    expect(rows.ended()).toBeTrue();
    rows.more();
    await settle();
    expect(server.asked.length).toBe(2);
  });

  it('never lets an answer to earlier filters overwrite a newer one', async () => {
    filters.set({ q: 'sea' });
    await settle();
    expect(server.asked.map((a) => a.q)).toEqual(['', 'sea']);
    server.asked[1]?.answer(page('sea', 0, 3, null, 3));
    await settle();
    server.asked[0]?.answer(page('all', 0, 100, 'c1'));
    await settle();
    expect(rows.rows().map((r) => r.of)).toEqual(['sea', 'sea', 'sea']);
    expect(rows.total()).toBe(3);
  });

  it('never puts a late page of earlier filters behind newer rows', async () => {
    server.asked[0]?.answer(page('all', 0, 100, 'c1'));
    await settle();
    rows.more();
    await settle();
    filters.set({ q: 'sea' });
    await settle();
    server.asked[2]?.answer(page('sea', 0, 3, null, 3));
    server.asked[1]?.answer(page('all', 100, 100, null));
    await settle();
    expect(rows.rows().length).toBe(3);
  });

  it('reads again what is shown when something changed, as much as is shown', async () => {
    server.asked[0]?.answer(page('a', 0, 100, 'c1'));
    await settle();
    rows.more();
    await settle();
    server.asked[1]?.answer(page('a', 100, 100, 'c2'));
    await settle();
    TestBed.inject(Store).dispatch(LiveActions.changed({ businessId: 'biz_1', topic: 'contacts' }));
    TestBed.tick();
    await new Promise((r) => setTimeout(r, 600));
    expect(server.asked[2]?.limit).toBe(200);
    expect(rows.rows().length).withContext('they stay meanwhile').toBe(200);
  });

  it('says why there is nothing, and keeps what is shown while the server is away', async () => {
    server.asked[0]?.answer(new ApiProblem(500, 'fault', 'Something failed.', []));
    await settle();
    expect(rows.problem()?.message).toBe('Something failed.');
    rows.again();
    await settle();
    server.asked[1]?.answer(page('a', 0, 2, null, 2));
    await settle();
    expect(rows.problem()).toBeNull();
    rows.again();
    await settle();
    server.asked[2]?.answer(new ApiProblem(0, 'offline', 'The server does not answer.', []));
    await settle();
    expect(rows.problem()).toBeNull();
    expect(rows.rows().length).toBe(2);
  });

  it('is said to be empty once that is known, and not because of a filter', async () => {
    expect(rows.nothing()).withContext('not read yet').toBeFalse();
    server.asked[0]?.answer(page('a', 0, 0, null, 0));
    await settle();
    expect(rows.nothing()).toBeFalse();
    filters.set({} as { q: string });
    await settle();
    server.asked[1]?.answer(page('a', 0, 0, null, 0));
    await settle();
    expect(rows.nothing()).toBeTrue();
  });

  it('asks nothing while no business is open, and anew for another one', async () => {
    businessId.set('');
    await settle();
    expect(server.asked.length).toBe(1);
    businessId.set('biz_2');
    await settle();
    expect(server.asked.length).toBe(2);
  });
});
