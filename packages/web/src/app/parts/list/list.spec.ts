import { ChangeDetectionStrategy, Component, provideZonelessChangeDetection, signal } from '@angular/core';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MatButtonHarness } from '@angular/material/button/testing';
import { MatInputHarness } from '@angular/material/input/testing';
import { provideRouter } from '@angular/router';
import { RouterTestingHarness } from '@angular/router/testing';
import { ApiProblem } from '../../api/api';
import { SessionFacade } from '../../state/session.facade';
import { Docket } from '../docket/docket';
import { Cell } from '../table/cell';
import { Table } from '../table/table';
import { List, type Listed } from './list';

@Component({
  selector: 'lg-boats',
  imports: [Cell, Docket, List, Table],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-list what="boats" [store]="store" searching="a name">
      <button actions type="button" matButton>Build one</button>
      <p nothing>No boat yet.</p>
      <span facets>Kind</span>
      <lg-table label="Boats" [rows]="rows" [columns]="columns" [key]="id" opening (opened)="open.set($event)">
        <ng-template lgCell="id" [of]="rows" let-b
          ><button type="button" matButton>{{ b.id }}</button></ng-template
        >
      </lg-table>
      @if (open(); as id) {
        <lg-docket
          docket
          kind="Boat"
          [name]="id"
          [next]="{ title: 'Paint it.', why: 'It is due.', tone: 'hold' }"
          (closed)="open.set(null)"
        >
          <p step>With what there is.</p>
          <p>Built 2019</p>
        </lg-docket>
      }
    </lg-list>
  `,
})
class Boats {
  readonly problem = signal<Error | null>(null);
  readonly here = signal(false);
  readonly nothing = signal(false);
  readonly address = signal<{ q?: string }>({});
  readonly open = signal<string | null>(null);
  readonly tries = signal(0);
  readonly filtered = signal(false);
  readonly store: Listed = {
    problem: this.problem,
    nothing: this.nothing,
    here: this.here,
    address: this.address,
    open: this.open,
    rowIds: signal(['w', 'a']),
    filtered: this.filtered,
    clear: () => {
      this.filtered.set(false);
    },
    again: () => {
      this.tries.update((n) => n + 1);
    },
    search: (q) => {
      this.address.set({ q });
    },
    choose: (id) => {
      this.open.set(id);
    },
  };
  readonly rows = [{ id: 'w' }, { id: 'a' }];
  readonly id = (b: { id: string }): string => b.id;
  readonly columns = [{ id: 'id', head: 'Name' }];
}

describe('a page that lists things', () => {
  let fixture: ComponentFixture<unknown>;
  let page: Boats;
  let host: HTMLElement;
  let at: RouterTestingHarness;
  beforeEach(async () => {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideRouter([{ path: 'boats', component: Boats }]),
        {
          provide: SessionFacade,
          useValue: {
            session: signal({ user: { id: 'p1' }, businesses: [], tables: {} }),
            business: signal(null),
            businessId: signal('b'),
          },
        },
      ],
    });
    at = await RouterTestingHarness.create();
    page = await at.navigateByUrl('/boats', Boats);
    fixture = at.fixture;
    host = at.routeNativeElement as HTMLElement;
    document.body.append(fixture.nativeElement as HTMLElement);
  });
  afterEach(() => (fixture.nativeElement as HTMLElement).remove());
  const settle = (): Promise<void> => fixture.whenStable().then(() => undefined);
  const press = async (text: string): Promise<void> =>
    (await TestbedHarnessEnvironment.loader(fixture).getHarness(MatButtonHarness.with({ text }))).click();

  it('says what belongs there while there is nothing, and shows neither filters nor rows then', async () => {
    page.nothing.set(true);
    await settle();
    expect(host.textContent).toContain('No boat yet.');
    expect(host.querySelector('table')).toBeNull();
    expect(host.querySelector('[data-filter]')).toBeNull();
  });

  it('says what went wrong and tries again, and keeps rows that are here', async () => {
    page.problem.set(new Error('The server does not answer.'));
    await settle();
    expect(host.querySelector('[role=alert]')?.textContent).toContain('The server does not answer.');
    expect(host.querySelector('table')).toBeNull();
    page.here.set(true);
    await settle();
    expect(host.querySelector('table')).not.toBeNull();
    await press('Try again');
    expect(page.tries()).toBe(1);
  });

  it('keeps its filters where the server refuses them, and shows all again where that is wished', async () => {
    page.problem.set(
      new ApiProblem(422, 'invalid', 'from: Write the day.', [{ field: 'from', message: 'Write the day.' }]),
    );
    page.filtered.set(true);
    await settle();
    const alert = host.querySelector('[role=alert]')?.textContent ?? '';
    expect(alert).toContain('Write the day.');
    expect(alert).not.toContain('from:');
    expect(alert).not.toContain('Try again');
    expect(host.querySelector('[data-filter]')).not.toBeNull();
    expect(host.querySelector('table')).toBeNull();
    await press('Show all');
    expect(page.filtered()).toBeFalse();
  });

  it('is searched, and gone into from the search by an arrow', async () => {
    const search = await TestbedHarnessEnvironment.loader(fixture).getHarness(MatInputHarness);
    await search.setValue('w');
    expect(page.address().q).toBe('w');
    const field = host.querySelector<HTMLInputElement>('[data-filter]');
    expect(field?.maxLength).withContext('more is not asked for').toBe(80);
    expect(field?.getAttribute('aria-label')).toBe('Filter boats');
    field?.focus();
    field?.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', bubbles: true, cancelable: true }));
    await settle();
    expect(document.activeElement?.closest('tr')?.getAttribute('data-row')).toBe('w');
  });

  it('opens the docket of one: its kind, its name, the one next step and what there is to know', async () => {
    host.querySelector<HTMLElement>('tr[data-row=w]')?.click();
    await settle();
    const docket = host.querySelector('lg-docket');
    expect(docket?.getAttribute('role')).toBe('complementary');
    expect(docket?.getAttribute('aria-label')).toBe('Boat');
    expect(docket?.querySelector('h2')?.textContent).toBe('w');
    expect(docket?.querySelector('.step')?.textContent?.replace(/\s+/g, ' ').trim()).toBe(
      'Paint it. It is due. With what there is.',
    );
    expect(docket?.querySelector('.step')?.classList.contains('hold')).toBeTrue();
    expect(docket?.textContent).toContain('Built 2019');
    await press('Close');
    expect(page.open()).toBeNull();
  });

  it('widens the docket, and the address says so', async () => {
    page.open.set('w');
    await press('Wider');
    await settle();
    expect(host.querySelector('lg-docket')?.classList.contains('wide')).toBeTrue();
    page = await at.navigateByUrl('/boats?wide=yes', Boats);
    page.open.set('a');
    await settle();
    expect((at.routeNativeElement as HTMLElement).querySelector('lg-docket')?.classList.contains('wide')).toBeTrue();
    await press('Narrower');
    await settle();
    expect((at.routeNativeElement as HTMLElement).querySelector('lg-docket')?.classList.contains('wide')).toBeFalse();
  });
});
