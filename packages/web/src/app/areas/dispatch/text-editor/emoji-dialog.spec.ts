import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MatDialogRef } from '@angular/material/dialog';
import { EmojiDialog } from './emoji-dialog';

describe('choosing an emoji', () => {
  let fixture: ComponentFixture<EmojiDialog>;
  let closed: (string | undefined)[];
  beforeEach(async () => {
    closed = [];
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        { provide: MatDialogRef, useValue: { close: (x?: string) => closed.push(x) } },
      ],
    });
    fixture = TestBed.createComponent(EmojiDialog);
    await fixture.whenStable();
  });
  const host = (): HTMLElement => fixture.nativeElement as HTMLElement;
  const shown = (): string[] =>
    Array.from(host().querySelectorAll('.grid button')).map((b) => b.getAttribute('aria-label') ?? '');
  const find = async (words: string): Promise<HTMLInputElement> => {
    const field = host().querySelector('input') as HTMLInputElement;
    field.value = words;
    field.dispatchEvent(new Event('input'));
    await fixture.whenStable();
    return field;
  };

  it('finds one by any word that is said of it, and gives it with Enter', async () => {
    const field = await find('ferry');
    expect(shown()).toEqual(['ferry']);
    field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter' }));
    expect(closed).toEqual(['⛴️']);
    await find('no such thing at all');
    expect(host().textContent).toContain('None by this word.');
  });

  it('offers none that neither our font nor a phone of some years can draw', async () => {
    await find('head shaking');
    expect(shown()).withContext('of Emoji 15.1').toEqual([]);
    await find('face with bags under eyes');
    expect(shown()).withContext('of Emoji 16').toEqual([]);
    await find('shaking face');
    expect(shown()).withContext('of Emoji 15').toEqual(['shaking face']);
  });

  it('gives nothing with Enter before anything was looked for', async () => {
    const field = await find('  ');
    field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter' }));
    expect(closed).toEqual([]);
    expect(shown().length).toBeGreaterThan(50);
  });
});
