import { ComponentFixture, TestBed } from '@angular/core/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { POSTS, type Finding } from '@long-gate/core';
import { GateStrip, type StripAnswer } from './gate-strip';
import { differencesOf } from './history';
import { Findings } from './findings';
import { MarkedText } from './marked-text';

const answers = (over: Partial<Record<number, StripAnswer>>): StripAnswer[] =>
  POSTS.map(({ no }) => over[no] ?? { post: no, result: 'pass' });

describe('the gate strip', () => {
  let fixture: ComponentFixture<GateStrip>;
  beforeEach(() => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    fixture = TestBed.createComponent(GateStrip);
  });
  const draw = async (list: StripAnswer[]): Promise<SVGElement> => {
    fixture.componentRef.setInput('answers', list);
    await fixture.whenStable();
    return (fixture.nativeElement as HTMLElement).querySelector('svg') as SVGElement;
  };

  /** How many shapes of a look are drawn; all of one look are one path. */
  const marks = (svg: SVGElement, look: string): number =>
    Array.from(svg.querySelectorAll(`path${look}`)).reduce(
      (n, path) => n + ((path.getAttribute('d') ?? '').match(/M/g)?.length ?? 0),
      0,
    );

  it('draws each answer by its own shape, so that colour never speaks alone', async () => {
    const svg = await draw(
      answers({
        3: { post: 3, result: 'hold', reason: 'never-looked-up' },
        6: { post: 6, result: 'stop', reason: 'consent-none' },
        9: { post: 9, result: 'not asked' },
      }),
    );
    expect(marks(svg, '.pass')).toBe(8);
    expect(marks(svg, '.hold')).toBe(1);
    expect(marks(svg, '.stop')).withContext('a post and its cap').toBe(2);
    expect(marks(svg, '.not-asked')).toBe(1);
  });

  it('ends the rail at the deciding stop and draws what is behind it pale', async () => {
    const svg = await draw(
      answers({
        3: { post: 3, result: 'hold', reason: 'never-looked-up' },
        6: { post: 6, result: 'stop', reason: 'consent-none' },
      }),
    );
    expect(Number(svg.querySelector('.rail')?.getAttribute('x2'))).toBe(44);
    expect(marks(svg, '.pale')).toBe(5);
    expect(marks(svg, ':not(.pale)'))
      .withContext('four that pass, one hold, the stop and its cap')
      .toBe(4 + 1 + 2);
  });

  it('says the same in words, naming the deciding post', async () => {
    const stopped = await draw(
      answers({
        3: { post: 3, result: 'hold', reason: 'never-looked-up' },
        6: { post: 6, result: 'stop', reason: 'consent-none' },
      }),
    );
    expect(stopped.getAttribute('aria-label')).toBe(
      'Gate: stop at post 6, consent for this purpose: never agreed to this kind of text',
    );
    const passed = await draw(answers({}));
    expect(passed.getAttribute('aria-label')).toBe('Gate: passes every post asked');
    expect(Number(passed.querySelector('.rail')?.getAttribute('x2'))).toBe(88);
  });
});

describe('marked text', () => {
  it('underlines the very words of each finding and gives the whole text back', async () => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    const fixture = TestBed.createComponent(MarkedText);
    const text = 'Last places! lnk.example/9x Reply STOP to end.';
    const f = (over: Partial<Finding> & { no: number }): Finding & { no: number } => ({
      code: 'sample-no-name',
      severity: 'risk',
      field: 'samples.0',
      message: 'm',
      fix: 'f',
      ...over,
    });
    fixture.componentRef.setInput('text', text);
    fixture.componentRef.setInput('findings', [
      f({ no: 2, severity: 'block', span: { start: 13, end: 27 } }),
      f({ no: 1, span: { start: 0, end: 12 } }),
    ]);
    await fixture.whenStable();
    const el = fixture.nativeElement as HTMLElement;
    expect(Array.from(el.querySelectorAll('.mark')).map((m) => m.textContent)).toEqual([
      'Last places!',
      'lnk.example/9x',
    ]);
    expect(Array.from(el.querySelectorAll('sup')).map((m) => m.textContent)).toEqual(['1', '2']);
    expect(el.textContent?.replace(/[12](?= |$)/g, '')).toContain('Reply STOP to end.');
  });
});

describe('findings beside a field', () => {
  it('have the registrar’s own words too, also where our check says the same, and mended once it does not', async () => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    const fixture = TestBed.createComponent(Findings);
    const ours: Finding & { no: number } = {
      no: 1,
      code: 'agreement-condition',
      severity: 'block',
      field: 'agreement',
      message: 'Agreement is made a condition.',
      fix: 'Take it out.',
    };
    fixture.componentRef.setInput('findings', [ours]);
    fixture.componentRef.setInput('field', 'agreement');
    fixture.componentRef.setInput('answers', [
      { field: 'agreement', code: 'agreement-condition', message: 'Consent must not be a condition.' },
      { field: 'description', code: 'sender-not-named', message: 'Elsewhere.' },
    ]);
    await fixture.whenStable();
    const text = (): string => (fixture.nativeElement as HTMLElement).textContent.replace(/\s+/g, ' ');
    expect(text()).toContain('Agreement is made a condition.');
    expect(text()).toContain('The registrar said Consent must not be a condition.');
    expect(text()).not.toContain('Mended.');
    expect(text()).not.toContain('Elsewhere.');
    fixture.componentRef.setInput('findings', []);
    await fixture.whenStable();
    expect(text()).toContain('Mended.');
  });
});

describe('history', () => {
  const ZONE = 'America/New_York';

  it('shows what changed, and nothing that did not', () => {
    expect(
      differencesOf({ before: { label: 'A', note: 'same' }, after: { label: 'B', note: 'same', tags: ['x'] } }, ZONE),
    ).toEqual([
      { what: 'label', before: 'A', after: 'B' },
      { what: 'tags', before: '', after: 'x' },
    ]);
    expect(differencesOf({ before: null, after: null }, ZONE)).toEqual([]);
    // Lists, switches and what has members read as words, not as a program writes them.
    const before = { samples: ['One.', 'Two.'], stopsAt: { hour: 21, note: '' }, on: false, tags: ['x'], name: '' };
    const after = { samples: ['One.', 'Three.'], stopsAt: { hour: 20, note: '' }, on: true, tags: [], name: '' };
    expect(differencesOf({ before, after }, ZONE)).toEqual([
      { what: 'samples', before: 'One. / Two.', after: 'One. / Three.' },
      { what: 'stops at', before: 'hour: 21', after: 'hour: 20' },
      { what: 'on', before: 'no', after: 'yes' },
      { what: 'tags', before: 'x', after: '(nothing)' },
    ]);
  });

  it('writes moments as they are written everywhere, in the time of the business', () => {
    expect(differencesOf({ before: null, after: { at: '2027-03-15T13:30:00.000Z', day: '2027-03-15' } }, ZONE)).toEqual(
      [
        { what: 'at', before: '', after: '15 Mar 2027, 09:30 EDT' },
        { what: 'day', before: '', after: '2027-03-15' },
      ],
    );
  });
});
