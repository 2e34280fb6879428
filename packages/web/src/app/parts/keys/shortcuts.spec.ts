import { ChangeDetectionStrategy, Component, provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MatDialog } from '@angular/material/dialog';
import { DocketKeys } from './docket-keys';
import { plain, Shortcuts } from './shortcuts';

@Component({
  selector: 'lg-list-below',
  imports: [DocketKeys],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<div [lgDocketKeys]="ids" [open]="open()" (chosen)="open.set($event)"><input matInput id="field" /></div>`,
})
class ListBelow {
  readonly ids = ['a', 'b', 'c'];
  readonly open = signal<string | null>(null);
}

describe('keys', () => {
  let fixture: ComponentFixture<ListBelow>;
  let keys: Shortcuts;
  const dialogs: unknown[] = [];
  beforeEach(async () => {
    dialogs.length = 0;
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), { provide: MatDialog, useValue: { openDialogs: dialogs } }],
    });
    keys = TestBed.inject(Shortcuts);
    fixture = TestBed.createComponent(ListBelow);
    document.body.append(fixture.nativeElement as HTMLElement);
    await fixture.whenStable();
  });
  afterEach(() => (fixture.nativeElement as HTMLElement).remove());
  const press = async (
    key: string,
    on: EventTarget = document.body,
    over: KeyboardEventInit = {},
  ): Promise<boolean> => {
    const taken = !on.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...over }));
    await fixture.whenStable();
    return taken;
  };
  const open = (): string | null => fixture.componentInstance.open();

  it('walk through a list, stop at its ends, and close what is open', async () => {
    await press('ArrowDown');
    expect(open()).toBe('a');
    await press('ArrowDown');
    await press('ArrowDown');
    await press('ArrowDown');
    expect(open()).toBe('c');
    await press('ArrowUp');
    expect(open()).toBe('b');
    await press('Escape');
    expect(open()).toBeNull();
  });

  it('are left to the browser where there is nothing to do', async () => {
    expect(await press('Escape')).toBeFalse();
    expect(await press('x')).toBeFalse();
    expect(await press('ArrowDown')).toBeTrue();
  });

  it('do nothing while somebody types, but for those that always work; Esc leaves the field first', async () => {
    const field = (fixture.nativeElement as HTMLElement).querySelector<HTMLElement>('#field') as HTMLElement;
    let found = 0;
    TestBed.runInInjectionContext(() =>
      keys.add({
        shown: 'Ctrl+K',
        words: 'find',
        is: (e) => e.ctrlKey && e.key === 'k',
        act: () => ++found > 0,
        always: true,
      }),
    );
    await press('ArrowDown', field);
    expect(open()).toBeNull();
    await press('k', field, { ctrlKey: true });
    expect(found).toBe(1);
    fixture.componentInstance.open.set('a');
    field.focus();
    await press('Escape', field);
    expect(document.activeElement).not.toBe(field);
    expect(open()).withContext('the docket stays for the second Esc').toBe('a');
  });

  it('belong to the dialog that is open', async () => {
    dialogs.push({});
    await press('ArrowDown');
    expect(open()).toBeNull();
  });

  it('are explained by the table that acts, for as long as they work', () => {
    const shown = (): string[] => keys.table().map((s) => s.shown);
    expect(shown()).toEqual(['↑ ↓', 'Esc']);
    fixture.destroy();
    expect(shown()).toEqual([]);
  });

  it('of what came last act first', async () => {
    const taken: string[] = [];
    const of = (name: string) => ({
      shown: 'Esc',
      words: name,
      is: plain('Escape'),
      act: () => {
        taken.push(name);
        return name === 'panel';
      },
    });
    TestBed.runInInjectionContext(() => {
      keys.add(of('page'));
      keys.add(of('panel'));
    });
    await press('Escape');
    expect(taken).toEqual(['panel']);
  });
});
