import { ChangeDetectionStrategy, Component, provideZonelessChangeDetection, signal } from '@angular/core';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MatButtonHarness } from '@angular/material/button/testing';
import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { MatSortHarness } from '@angular/material/sort/testing';
import { MatTableHarness } from '@angular/material/table/testing';
import { SessionFacade } from '../../state/session.facade';
import { Cell } from './cell';
import { Api, ApiProblem } from '../../api/api';
import type { Column, Kept } from './column';
import { Table } from './table';

interface Boat {
  id: string;
  name: string;
  seats: number;
}
const BOATS: Boat[] = [
  { id: 'w', name: 'Whimbrel', seats: 120 },
  { id: 'a', name: 'Avocet', seats: 80 },
  { id: 'k', name: 'Knot', seats: 240 },
];

@Component({
  selector: 'lg-boats',
  imports: [Table, Cell],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div [style.width.px]="width()" style="height: 300px; display: flex">
      <lg-table
        name="numbers"
        label="Boats"
        [virtual]="virtual()"
        [rows]="rows()"
        [columns]="columns"
        [key]="id"
        [called]="nameOf"
        [opening]="opening()"
        [open]="open()"
        (opened)="open.set($event)"
        [picking]="true"
        [(picked)]="picked"
        [order]="order()"
        (ordered)="order.set($event)"
        (near)="asked.set(asked() + 1)"
        style="flex: 1"
      >
        <ng-template lgCell="name" [of]="rows()" let-b
          ><strong>{{ b.name }}</strong></ng-template
        >
        <ng-container none>No boat.</ng-container>
        <ng-container foot>{{ rows().length }} boats</ng-container>
      </lg-table>
    </div>
  `,
})
class Boats {
  readonly width = signal(600);
  readonly virtual = signal(false);
  readonly opening = signal(true);
  readonly rows = signal<readonly Boat[]>(BOATS);
  readonly open = signal<string | null>(null);
  readonly picked = signal<readonly string[]>([]);
  readonly asked = signal(0);
  readonly order = signal<{ by: string; down: boolean } | null | undefined>(undefined);
  readonly id = (b: Boat): string => b.id;
  readonly nameOf = (b: Boat): string => b.name;
  readonly columns: readonly Column<Boat>[] = [
    { id: 'name', head: 'Name', width: 160, by: (b) => b.name },
    {
      id: 'seats',
      head: 'Seats',
      width: 100,
      right: true,
      leaves: 1,
      by: (b) => b.seats,
      text: (b) => String(b.seats),
    },
    { id: 'rest', head: 'Rest', least: 100, sorts: true, text: () => 'moored' },
  ];
}

describe('a table', () => {
  let fixture: ComponentFixture<Boats>;
  let boats: Boats;
  /** What the server keeps, by person and table. */
  let kept: Record<string, Record<string, Kept>>;
  let away: boolean;
  beforeEach(() => {
    kept = {};
    away = false;
    begin('p1');
  });
  function begin(person: string): void {
    TestBed.resetTestingModule();
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        { provide: SessionFacade, useValue: { session: signal({ user: { id: person }, tables: kept[person] ?? {} }) } },
        {
          provide: Api,
          useValue: {
            call: (_: unknown, { params, body }: { params: { name: string }; body: Kept }) => {
              if (away) return Promise.reject(new ApiProblem(0, 'offline', 'The server does not answer.', []));
              kept[person] = { ...kept[person], [params.name]: body };
              return Promise.resolve({ done: true });
            },
          },
        },
      ],
    });
    fixture = TestBed.createComponent(Boats);
    boats = fixture.componentInstance;
    document.body.append(fixture.nativeElement as HTMLElement);
  }
  afterEach(() => {
    (fixture.nativeElement as HTMLElement).remove();
  });
  const loader = () => TestbedHarnessEnvironment.loader(fixture);
  const cells = async (): Promise<string[][]> => (await loader().getHarness(MatTableHarness)).getCellTextByIndex();
  const head = async (): Promise<string[]> => {
    const [row] = await (await loader().getHarness(MatTableHarness)).getHeaderRows();
    return (await row?.getCellTextByIndex()) ?? [];
  };
  /** What was measured is drawn only after the browser has said so. */
  async function settle(): Promise<void> {
    await fixture.whenStable();
    await new Promise((r) => setTimeout(r, 60));
    await fixture.whenStable();
  }

  /** Waits until the head is this: the browser says how wide it is when it comes to that. */
  async function hasHead(...columns: string[]): Promise<void> {
    const until = Date.now() + 60_000;
    do await settle();
    while ((await head()).join() !== columns.join() && Date.now() < until);
    expect(await head()).toEqual(columns);
  }

  it('shows rows by the text of their columns and by written cells', async () => {
    await settle();
    expect(await cells()).toEqual([
      ['', 'Whimbrel', '120', 'moored'],
      ['', 'Avocet', '80', 'moored'],
      ['', 'Knot', '240', 'moored'],
    ]);
    expect((fixture.nativeElement as HTMLElement).querySelectorAll('td strong').length).toBe(3);
    expect((fixture.nativeElement as HTMLElement).textContent).toContain('3 boats');
  });

  it('says what is where there is nothing', async () => {
    boats.rows.set([]);
    await settle();
    expect((fixture.nativeElement as HTMLElement).querySelector('td')?.textContent?.trim()).toBe('No boat.');
  });

  it('is sorted by pressing a head, again the other way, and once more not at all', async () => {
    const sort = await loader().getHarness(MatSortHarness);
    const [seats] = await sort.getSortHeaders({ label: 'Seats' });
    const names = async (): Promise<string> => (await cells()).map((c) => c[1]?.[0]).join('');
    await seats?.click();
    expect(await names()).toBe('AWK');
    await seats?.click();
    expect(await names()).toBe('KWA');
    await seats?.click();
    expect(await names()).toBe('WAK');
    const [rest] = await sort.getSortHeaders({ label: 'Rest' });
    expect(await rest?.isDisabled()).toBeTrue();
  });

  it('asks for the order where not all rows are here, and leaves them as they come', async () => {
    boats.order.set(null);
    const sort = await loader().getHarness(MatSortHarness);
    const [name] = await sort.getSortHeaders({ label: 'Name' });
    expect(await name?.isDisabled())
      .withContext('its rows here are not all there are')
      .toBeTrue();
    const [rest] = await sort.getSortHeaders({ label: 'Rest' });
    await rest?.click();
    expect(boats.order()).toEqual({ by: 'rest', down: false });
    expect(await rest?.getSortDirection()).toBe('asc');
    expect((await cells()).map((c) => c[1]).join()).toBe('Whimbrel,Avocet,Knot');
    await rest?.click();
    expect(boats.order()).toEqual({ by: 'rest', down: true });
    await rest?.click();
    expect(boats.order()).withContext('as it comes').toBeNull();
  });

  it('opens a row, and marks the one that is open', async () => {
    await settle();
    (fixture.nativeElement as HTMLElement).querySelectorAll<HTMLElement>('tr[data-row]')[1]?.click();
    await settle();
    expect(boats.open()).toBe('a');
    expect((fixture.nativeElement as HTMLElement).querySelector('tr.chosen')?.getAttribute('data-row')).toBe('a');
  });

  it('chooses one by one, or all that are shown; choosing opens nothing', async () => {
    const one = await loader().getHarness(MatCheckboxHarness.with({ selector: 'td mat-checkbox' }));
    await one.check();
    expect(boats.picked()).toEqual(['w']);
    const all = await loader().getHarness(MatCheckboxHarness.with({ selector: 'th mat-checkbox' }));
    expect(await all.isIndeterminate()).toBeTrue();
    await all.check();
    expect(boats.picked()).toEqual(['w', 'a', 'k']);
    await all.uncheck();
    expect(boats.picked()).toEqual([]);
    expect(boats.open()).toBeNull();
    expect(await one.getAriaLabel()).toBe('Choose Whimbrel');
  });

  it('lets the less important columns leave where there is no room, and has them back', async () => {
    await hasHead('', 'Name', 'Seats', 'Rest');
    boats.width.set(330);
    await hasHead('', 'Name', 'Rest');
    boats.width.set(600);
    await hasHead('', 'Name', 'Seats', 'Rest');
  });

  /** The dialog is fetched when it is asked for. */
  async function columnsDialog() {
    await (await loader().getHarness(MatButtonHarness.with({ text: 'Columns…' }))).click();
    for (let i = 0; i < 3_000 && !document.querySelector('lg-columns-dialog'); i++)
      await new Promise((r) => setTimeout(r, 10));
    return TestbedHarnessEnvironment.documentRootLoader(fixture);
  }

  async function useThese(): Promise<void> {
    const dialog = TestbedHarnessEnvironment.documentRootLoader(fixture);
    await (await dialog.getHarness(MatButtonHarness.with({ text: 'Use these' }))).click();
    for (let i = 0; i < 3_000 && document.querySelector('lg-columns-dialog'); i++)
      await new Promise((r) => setTimeout(r, 10));
    await settle();
  }

  /** A moment after the last change it is sent. */
  const sent = (): Promise<void> => new Promise((r) => setTimeout(r, 700));

  it('keeps columns and order for the person, and not for another', async () => {
    const sort = await loader().getHarness(MatSortHarness);
    await (await sort.getSortHeaders({ label: 'Name' }))[0]?.click();
    const dialog = await columnsDialog();
    await (await dialog.getHarness(MatCheckboxHarness.with({ label: 'Seats' }))).uncheck();
    await useThese();
    await hasHead('', 'Name', 'Rest');
    await sent();
    expect(kept['p1']?.['numbers']).toEqual({
      away: ['seats'],
      asked: [],
      widths: {},
      sort: { by: 'name', down: false },
    });
    (fixture.nativeElement as HTMLElement).remove();
    begin('p1');
    await settle();
    await hasHead('', 'Name', 'Rest');
    expect((await cells()).map((c) => c[1])).toEqual(['Avocet', 'Knot', 'Whimbrel']);
    (fixture.nativeElement as HTMLElement).remove();
    begin('p2');
    await settle();
    await hasHead('', 'Name', 'Seats', 'Rest');
  });

  it('stays as it was put where the server does not answer, and is sent with the next change', async () => {
    away = true;
    const sort = await loader().getHarness(MatSortHarness);
    const [name] = await sort.getSortHeaders({ label: 'Name' });
    await name?.click();
    await sent();
    expect((await cells()).map((c) => c[1])).toEqual(['Avocet', 'Knot', 'Whimbrel']);
    expect(kept).toEqual({});
    fixture.destroy();
    fixture = TestBed.createComponent(Boats);
    boats = fixture.componentInstance;
    document.body.append(fixture.nativeElement as HTMLElement);
    await settle();
    expect((await cells()).map((c) => c[1]))
      .withContext('when its page is opened again')
      .toEqual(['Avocet', 'Knot', 'Whimbrel']);
    away = false;
    const [again] = await (await loader().getHarness(MatSortHarness)).getSortHeaders({ label: 'Name' });
    await again?.click();
    await sent();
    expect(kept['p1']?.['numbers']?.sort).toEqual({ by: 'name', down: true });
  });

  it('can be widened by keyboard, and put as it was', async () => {
    const now = (): number =>
      Math.round(
        (fixture.nativeElement as HTMLElement).querySelectorAll<HTMLElement>('th')[1]?.getBoundingClientRect().width ??
          0,
      );
    /** How wide it is once it stays so: the browser says how wide the table is when it comes to that. */
    const width = async (): Promise<number> => {
      let was = -1;
      for (let same = 0; same < 5; same = now() === was ? same + 1 : 0) {
        was = now();
        await settle();
        await new Promise((r) => setTimeout(r, 40));
      }
      return was;
    };
    const before = await width();
    let dialog = await columnsDialog();
    await (await dialog.getHarness(MatButtonHarness.with({ selector: '[aria-label="Name wider"]' }))).click();
    await useThese();
    expect(await width()).toBe(before + 24);
    dialog = await columnsDialog();
    await (await dialog.getHarness(MatButtonHarness.with({ text: 'As they were' }))).click();
    await useThese();
    expect(await width()).toBe(before);
  });

  it('draws of many rows only those on screen, and asks for more near the end of what is here', async () => {
    boats.virtual.set(true);
    boats.rows.set(Array.from({ length: 500 }, (_, i) => ({ id: String(i), name: `Boat ${i}`, seats: i })));
    await settle();
    await settle();
    const host = fixture.nativeElement as HTMLElement;
    expect(host.querySelectorAll('tr[data-row]').length).toBeLessThan(60);
    expect(boats.asked()).toBe(0);
    const viewport = host.querySelector('cdk-virtual-scroll-viewport') as HTMLElement;
    viewport.scrollTop = 36 * 470;
    viewport.dispatchEvent(new Event('scroll'));
    await settle();
    await settle();
    expect(boats.asked()).toBeGreaterThan(0);
    expect(host.querySelector('tr[data-row="475"]')).not.toBeNull();
    // The head has stayed on top, above the rows, in one piece.
    const head = host.querySelector('thead') as HTMLElement;
    const [top, at] = [viewport.getBoundingClientRect().top, head.getBoundingClientRect()];
    expect(Math.abs(at.top - top)).toBeLessThan(2);
    expect(head.contains(document.elementFromPoint(at.left + 60, top + at.height / 2))).toBeTrue();
    expect([...head.querySelectorAll('th')].filter((th) => getComputedStyle(th).position === 'sticky')).toEqual([]);
  });

  it('lets a click in a row do what it does where rows do not open', async () => {
    boats.opening.set(false);
    await settle();
    const cell = (fixture.nativeElement as HTMLElement).querySelector('tr[data-row] strong');
    const click = new MouseEvent('click', { bubbles: true, cancelable: true });
    cell?.dispatchEvent(click);
    // A button that sends a form in a cell sends it, and a link leads where it leads.
    expect(click.defaultPrevented).toBeFalse();
    expect(boats.open()).toBeNull();
  });
});
