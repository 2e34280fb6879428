import { provideZonelessChangeDetection } from '@angular/core';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MatButtonHarness } from '@angular/material/button/testing';
import { MatInputHarness } from '@angular/material/input/testing';
import { TextEditor } from './text-editor';

describe('the text editor', () => {
  let fixture: ComponentFixture<TextEditor>;
  let written: string[];
  let host: HTMLElement;
  const last = (): string | undefined => written[written.length - 1];

  beforeEach(async () => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    fixture = TestBed.createComponent(TextEditor);
    host = fixture.nativeElement as HTMLElement;
    document.body.append(host);
    written = [];
    fixture.componentInstance.written.subscribe((t) => written.push(t));
    await given('Hello [firstName|friend], the boat is late.');
  });
  afterEach(() => host.remove());

  /** A text from outside, once the editor is there and has drawn it. */
  async function given(text: string): Promise<void> {
    fixture.componentRef.setInput('text', text);
    for (let i = 0; i < 100 && !host.querySelector('.sheet p'); i++) {
      await fixture.whenStable();
      await new Promise((r) => setTimeout(r, 10));
    }
    await fixture.whenStable();
  }
  const sheet = (): HTMLElement => host.querySelector<HTMLElement>('.sheet') as HTMLElement;
  const press = async (words: string | RegExp): Promise<void> => {
    const button = await TestbedHarnessEnvironment.loader(fixture).getHarness(MatButtonHarness.with({ text: words }));
    await button.click();
  };
  const fallback = (): Promise<MatInputHarness> =>
    TestbedHarnessEnvironment.loader(fixture).getHarness(MatInputHarness.with({ selector: '#fallback' }));
  /** Puts the caret at the end, as whoever goes on writing has it. */
  const toEnd = (): void => {
    sheet().focus();
    getSelection()?.selectAllChildren(sheet().querySelector('p:last-child') as HTMLElement);
    getSelection()?.collapseToEnd();
    document.dispatchEvent(new Event('selectionchange'));
  };
  const paste = (text: string, html = ''): void => {
    const data = new DataTransfer();
    data.setData('text/plain', text);
    if (html) data.setData('text/html', html);
    sheet().dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }));
  };
  const key = (k: string, over: KeyboardEventInit = {}): void => {
    sheet().dispatchEvent(new KeyboardEvent('keydown', { key: k, bubbles: true, cancelable: true, ...over }));
  };

  it('draws merge fields as chips with their fallback', () => {
    expect(sheet().querySelector('.merge')?.textContent).toBe('first name, else “friend”');
    expect(sheet().textContent).toBe('Hello first name, else “friend”, the boat is late.');
  });

  it('is a text box with a name for whoever does not see it', () => {
    expect(sheet().getAttribute('role')).toBe('textbox');
    expect(sheet().getAttribute('aria-label')).toBe('Text');
  });

  it('takes what is pasted as plain text, line by line, and fields in their written form as fields', () => {
    toEnd();
    paste(' Sorry!\nWrite to us, [lastName|all]', '<b style="color:red"> Sorry!</b>');
    expect(last()).toBe('Hello [firstName|friend], the boat is late. Sorry!\nWrite to us, [lastName|all]');
    expect(sheet().querySelectorAll('b').length).toBe(0);
    expect(sheet().querySelectorAll('.merge').length).toBe(2);
  });

  it('takes a step back and forth again', () => {
    toEnd();
    paste(' Sorry!');
    key('z', { ctrlKey: true });
    expect(last()).toBe('Hello [firstName|friend], the boat is late.');
    key('y', { ctrlKey: true });
    expect(last()).toBe('Hello [firstName|friend], the boat is late. Sorry!');
  });

  it('asks for the fallback of a field just put in, and never writes a bracket into it', async () => {
    toEnd();
    await press('Insert last name');
    await (await fallback()).setValue('trav]el|ler');
    await press('Use it');
    expect(last()).toBe('Hello [firstName|friend], the boat is late.[lastName|traveller]');
    expect(host.querySelector('#fallback')).toBeNull();
  });

  it('takes a field out again', async () => {
    toEnd();
    await press('Insert last name');
    await press('Take the field out');
    expect(last()).toBe('Hello [firstName|friend], the boat is late.');
  });

  it('puts in a link to the reader’s page, which needs no fallback, says what it is, and takes it out again', async () => {
    toEnd();
    await press('Insert link to their page');
    expect(last()).toBe('Hello [firstName|friend], the boat is late.[ownPage]');
    expect(host.querySelector('.fallback')).withContext('nothing is asked').toBeNull();
    const chip = sheet().querySelectorAll<HTMLElement>('.merge')[1];
    expect(chip?.textContent).toBe('link to their page');
    expect(chip?.classList).not.toContain('lacks');
    const { x, y, width, height } = chip?.getBoundingClientRect() ?? new DOMRect();
    for (const kind of ['mousedown', 'mouseup'])
      chip?.dispatchEvent(
        new MouseEvent(kind, { bubbles: true, cancelable: true, clientX: x + width / 2, clientY: y + height / 2 }),
      );
    await fixture.whenStable();
    expect(host.querySelector('.fallback')?.textContent).toContain('Each gets a link of their own');
    expect(host.querySelector('#fallback')).withContext('no words are asked for').toBeNull();
    await press('Take the link out');
    expect(last()).toBe('Hello [firstName|friend], the boat is late.');
  });

  it('does not write again what it was just given', async () => {
    await given('Another text');
    expect(sheet().textContent).toBe('Another text');
    expect(written).toEqual([]);
  });

  it('keeps what is typed where the server gives the same back without the space at its end', async () => {
    toEnd();
    paste(' ');
    await given('Hello [firstName|friend], the boat is late.');
    expect(sheet().textContent?.endsWith('late. ')).toBeTrue();
  });

  it('takes nothing from one who may only read', async () => {
    fixture.componentRef.setInput('disabled', true);
    await fixture.whenStable();
    expect(sheet().getAttribute('contenteditable')).toBe('false');
    expect(host.textContent).not.toContain('Insert');
  });
});
