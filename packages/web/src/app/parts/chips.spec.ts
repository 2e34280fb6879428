import { ChangeDetectionStrategy, Component, provideZonelessChangeDetection, signal } from '@angular/core';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MatChipHarness } from '@angular/material/chips/testing';
import { Chips, type Chip } from './chips';
import { Icon } from './icon';
import { Unfold } from './unfold';

@Component({
  selector: 'lg-boats',
  imports: [Chips, Icon, Unfold],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <lg-chips
      label="Boats"
      between="or"
      takeOut="Leave out"
      [chips]="chips()"
      [editable]="editable()"
      (removed)="out($event)"
    />
    <p style="font-size: 20px">menu <lg-icon sign="down" /></p>
    <lg-unfold
      ><span line>Whimbrel</span>
      <p id="behind">Built in Aldersund.</p></lg-unfold
    >
  `,
})
class Boats {
  readonly chips = signal<readonly Chip[]>([
    { id: '1', name: 'Whimbrel' },
    { id: '2', name: 'Avocet' },
  ]);
  readonly editable = signal(true);
  out(id: string): void {
    this.chips.update((all) => all.filter((c) => c.id !== id));
  }
}

describe('a few things chosen', () => {
  let fixture: ComponentFixture<Boats>;
  beforeEach(async () => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    fixture = TestBed.createComponent(Boats);
    await fixture.whenStable();
  });
  const host = (): HTMLElement => fixture.nativeElement as HTMLElement;
  const chips = (): Promise<MatChipHarness[]> =>
    TestbedHarnessEnvironment.loader(fixture).getAllHarnesses(MatChipHarness);
  const names = async (): Promise<string[]> => Promise.all((await chips()).map((c) => c.getText()));

  it('are read as words, with one between two of them', async () => {
    expect(await names()).toEqual(['Whimbrel', 'Avocet']);
    expect(host().querySelector('lg-chips')?.textContent.replace(/\s+/g, ' ').trim()).toBe('Whimbrel or Avocet');
  });

  it('are each taken out by a button that says whom, and by the delete key', async () => {
    expect(Array.from(host().querySelectorAll('lg-chips button')).map((b) => b.getAttribute('aria-label'))).toEqual([
      'Leave out Whimbrel',
      'Leave out Avocet',
    ]);
    const [first] = await chips();
    await (await first?.getRemoveButton())?.click();
    expect(await names()).toEqual(['Avocet']);
    await (await chips())[0]?.remove();
    expect(await names()).toEqual([]);
  });

  it('stay where they may not be taken out', async () => {
    fixture.componentInstance.editable.set(false);
    await fixture.whenStable();
    expect(host().querySelectorAll('lg-chips button').length).toBe(0);
    await (await chips())[0]?.remove();
    expect(await names()).toEqual(['Whimbrel', 'Avocet']);
  });

  it('have signs as tall as the line they stand in', () => {
    document.body.append(host());
    const { width, height } = host().querySelector('p svg')?.getBoundingClientRect() ?? { width: 0, height: 0 };
    expect([width, height]).toEqual([20, 20]);
    host().remove();
  });

  it('unfold what stands behind a line, and fold it again', async () => {
    const line = host().querySelector<HTMLButtonElement>('lg-unfold button');
    const shown = (): boolean => (host().querySelector<HTMLElement>('#behind')?.offsetParent ?? null) !== null;
    document.body.append(host());
    expect([line?.getAttribute('aria-expanded'), shown()]).toEqual(['false', false]);
    line?.click();
    await fixture.whenStable();
    expect([line?.getAttribute('aria-expanded'), shown()]).toEqual(['true', true]);
    line?.click();
    await fixture.whenStable();
    expect([line?.getAttribute('aria-expanded'), shown()]).toEqual(['false', false]);
    host().remove();
  });
});
