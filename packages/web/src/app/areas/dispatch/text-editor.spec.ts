import { provideZonelessChangeDetection } from '@angular/core';
import { ComponentFixture, TestBed } from '@angular/core/testing';
import { TextEditor } from './text-editor';

describe('the text editor', () => {
  let fixture: ComponentFixture<TextEditor>;
  let written: string[];
  let sheet: HTMLElement;

  beforeEach(async () => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    fixture = TestBed.createComponent(TextEditor);
    written = [];
    fixture.componentInstance.written.subscribe((t) => written.push(t));
    fixture.componentRef.setInput('text', 'Hello [firstName|friend], the boat is late.');
    await fixture.whenStable();
    sheet = (fixture.nativeElement as HTMLElement).querySelector('.sheet') as HTMLElement;
    document.body.append(fixture.nativeElement as HTMLElement);
  });
  afterEach(() => (fixture.nativeElement as HTMLElement).remove());

  const button = (words: string): HTMLElement =>
    Array.from((fixture.nativeElement as HTMLElement).querySelectorAll('button')).find((b) =>
      b.textContent?.includes(words),
    ) as HTMLElement;

  it('draws merge fields as chips with their fallback', () => {
    const chip = sheet.querySelector('.merge');
    expect(chip?.textContent).toBe('first name, else “friend”');
    expect(sheet.textContent).toBe('Hello first name, else “friend”, the boat is late.');
  });

  it('gives out what was typed around the chips, chips in their written form', () => {
    sheet.append(' Sorry!');
    sheet.dispatchEvent(new Event('input'));
    expect(written).toEqual(['Hello [firstName|friend], the boat is late. Sorry!']);
  });

  it('asks for the fallback of a chip just put in, and never writes a bracket into it', () => {
    button('Insert last name').click();
    const field = sheet.querySelector('input') as HTMLInputElement;
    expect(field).not.toBeNull();
    field.value = 'trav]el|ler';
    field.dispatchEvent(new Event('blur'));
    expect(written[written.length - 1]).toBe('Hello [firstName|friend], the boat is late.[lastName|traveller]');
  });

  it('does not write again what it was just given', async () => {
    fixture.componentRef.setInput('text', 'Another text');
    await fixture.whenStable();
    expect(sheet.textContent).toBe('Another text');
    expect(written).toEqual([]);
  });
});
