import { Location } from '@angular/common';
import { ChangeDetectionStrategy, Component, inject, provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { RouterTestingHarness } from '@angular/router/testing';
import { signalStore, withFeature, withProps } from '@ngrx/signals';
import { withAddress } from './with-address';
import { withFacets, withShown } from './with-facets';
import { withSelection } from './with-selection';

interface Boat {
  id: string;
  name: string;
  kind: string;
  state: string;
}
const BOATS: readonly Boat[] = [
  { id: '1', name: 'Whimbrel', kind: 'ferry', state: 'out' },
  { id: '2', name: 'Avocet', kind: 'ferry', state: 'in' },
  { id: '3', name: 'Knot', kind: 'launch', state: 'out' },
  { id: '4', name: 'Dunlin', kind: 'launch', state: 'in' },
];
const BoatsStore = signalStore(
  withAddress(['kind', 'state', 'q', 'show']),
  withProps(() => ({ all: signal(BOATS).asReadonly() })),
  withFeature((store) =>
    withFacets<Boat, 'kind' | 'state'>(
      store,
      { kind: { label: 'Kind', of: (b) => b.kind }, state: { label: 'State', of: (b) => b.state } },
      (b, { q }) => b.name.toLowerCase().includes((q ?? '').toLowerCase()),
    ),
  ),
  withFeature((store) => withSelection(store, (b) => b.id)),
);
const ShownStore = signalStore(
  withAddress(['show']),
  withProps(() => ({ all: signal(BOATS).asReadonly() })),
  withFeature((store) => withShown<Boat>(store, { out: (b) => b.state === 'out', ferries: (b) => b.kind === 'ferry' })),
);

@Component({
  selector: 'lg-boats',
  providers: [BoatsStore, ShownStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: '',
})
class Boats {
  readonly store = inject(BoatsStore);
  readonly other = inject(ShownStore);
}

describe('a list whose state stands in the address', () => {
  let at: RouterTestingHarness;
  let store: Boats['store'];
  let other: Boats['other'];
  beforeEach(async () => {
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), provideRouter([{ path: 'boats', component: Boats }])],
    });
    at = await RouterTestingHarness.create();
    await go('/boats');
  });
  async function go(url: string): Promise<void> {
    const page = await at.navigateByUrl(url, Boats);
    store = page.store;
    other = page.other;
  }
  const settle = (): Promise<void> => new Promise((r) => setTimeout(r, 20));
  const names = (): string[] => store.shown().map((b) => b.name);
  const url = (): string => TestBed.inject(Location).path();

  it('shows what a link says, to whoever opens it', async () => {
    await go('/boats?kind=ferry&state=out&open=1');
    expect(names()).toEqual(['Whimbrel']);
    expect(store.open()).toBe('1');
    expect(store.filtered()).toBeTrue();
    expect(store.query()).withContext('the open one is no filter').toBe('kind=ferry&state=out');
  });

  it('keeps the order in the link, which is no filter and stays when filters are cleared', async () => {
    await go('/boats?kind=ferry&sort=-name');
    expect(store.order()).toEqual({ by: 'name', down: true });
    expect(store.query()).toBe('kind=ferry');
    store.clear();
    await settle();
    expect(url()).toBe('/boats?sort=-name');
    expect(store.filtered()).toBeFalse();
    store.sort({ by: 'kind', down: false });
    await settle();
    expect(url()).toBe('/boats?sort=kind');
    store.sort(null);
    await settle();
    expect(url()).toBe('/boats');
    expect(store.order()).toBeNull();
  });

  it('takes several values of one facet as alternatives, and lets facets narrow one another', async () => {
    store.toggle('kind', 'ferry');
    await settle();
    store.toggle('kind', 'launch');
    await settle();
    expect(url()).toBe('/boats?kind=ferry~launch');
    expect(names().length).toBe(4);
    store.toggle('state', 'in');
    await settle();
    expect(names()).toEqual(['Avocet', 'Dunlin']);
    store.toggle('kind', 'ferry');
    await settle();
    expect(names()).toEqual(['Dunlin']);
  });

  it('counts each facet over what the others leave, and keeps a chosen value that has none', async () => {
    await go('/boats?kind=ferry&q=avo');
    const of = (key: string) =>
      store
        .facets()
        .find((f) => f.key === key)
        ?.values.map((v) => `${v.value} ${v.n}`);
    expect(of('state')).toEqual(['in 1']);
    expect(of('kind')).toEqual(['ferry 1']);
    await go('/boats?kind=launch&q=avo');
    expect(of('kind')).toEqual(['ferry 1', 'launch 0']);
    expect(names()).toEqual([]);
  });

  it('goes back by the way it came: a docket closes, typing is one step', async () => {
    const location = TestBed.inject(Location);
    store.search('k');
    await settle();
    store.search('kn');
    await settle();
    store.choose('3');
    await settle();
    store.choose('4');
    await settle();
    expect(url()).toBe('/boats?q=kn&open=4');
    location.back();
    await settle();
    expect(url()).toBe('/boats?q=kn');
  });

  it('puts other filters in place of these, and clears them without closing the docket', async () => {
    await go('/boats?kind=ferry&open=1');
    store.apply('state=in');
    await settle();
    expect(store.filters()).toEqual({ state: 'in' });
    store.clear();
    await settle();
    expect(url()).toBe('/boats?open=1');
  });

  it('does nothing to a chosen row that a filter hides', async () => {
    store.pick(['1', '3']);
    expect(store.picked()).toEqual(['1', '3']);
    store.toggle('kind', 'ferry');
    await settle();
    expect(store.picked()).toEqual(['1']);
  });

  it('narrows by one choice of several that overlap', async () => {
    expect(other.shows().map((v) => `${v.value} ${v.n} ${v.on}`)).toEqual([
      'any 4 true',
      'out 2 false',
      'ferries 2 false',
    ]);
    await go('/boats?show=out');
    expect(other.shown().map((b) => b.id)).toEqual(['1', '3']);
    await go('/boats?show=no-such');
    expect(other.shown().length).withContext('an unknown choice hides nothing').toBe(4);
  });
});
