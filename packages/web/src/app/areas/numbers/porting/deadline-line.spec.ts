import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { PortView } from '@long-gate/contracts';
import { SessionFacade } from '../../../state/session.facade';
import { DeadlineLine, deadlinesOf } from './deadline-line';

const ZONE = 'America/New_York';
const port = (id: string, over: object = {}): PortView =>
  ({
    id,
    state: 'accepted',
    numbers: [{ e164: '+12015550152' }],
    facts: { pinExpires: '' },
    focOn: '',
    lastDayToChange: '',
    letter: { state: 'none', linkExpiresAt: null },
    ...over,
  }) as unknown as PortView;

describe('deadlines of ports', () => {
  it('are what falls due for requests under way, in their order', () => {
    const due = deadlinesOf(
      [
        port('a', { focOn: '2027-03-24', lastDayToChange: '2027-03-22', numbers: [{ e164: '+12015550152' }, {}] }),
        port('b', { state: 'rejected', facts: { pinExpires: '2027-03-15' } }),
        port('c', { state: 'done', focOn: '2027-03-14' }),
      ],
      ZONE,
    );
    expect(due.map((d) => `${d.day} ${d.what} ${d.tone}`)).toEqual([
      '2027-03-15 PIN of +1 201-555-0152 ends stop',
      '2027-03-22 last day to change +1 201-555-0152 and 1 more hold',
      '2027-03-24 +1 201-555-0152 and 1 more lands pass',
    ]);
  });

  it('count a link that ends by the day of the business, not of the world', () => {
    const late = Date.parse('2027-03-16T03:30:00Z');
    const [link] = deadlinesOf([port('a', { letter: { state: 'link out', linkExpiresAt: late } })], ZONE);
    expect(link?.day).toBe('2027-03-15');
    expect(deadlinesOf([port('a', { letter: { state: 'signed', linkExpiresAt: late } })], ZONE)).toEqual([]);
  });

  it('are drawn on three weeks from today, also over the day the clock changes', async () => {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        {
          provide: SessionFacade,
          useValue: { now: signal(Date.parse('2027-03-12T19:00:00Z')), business: signal({ timeZone: ZONE }) },
        },
      ],
    });
    const fixture = TestBed.createComponent(DeadlineLine);
    fixture.componentRef.setInput('ports', [
      port('a', { focOn: '2027-03-24' }),
      port('b', { facts: { pinExpires: '2027-04-02' } }),
      port('c', { facts: { pinExpires: '2027-03-11' } }),
    ]);
    const opened: string[] = [];
    fixture.componentInstance.opened.subscribe((id) => opened.push(id));
    await fixture.whenStable();
    const host = fixture.nativeElement as HTMLElement;
    const days = Array.from(host.querySelectorAll('li'));
    expect(days.length).toBe(21);
    expect(days.map((d) => d.querySelector('span')?.textContent).slice(0, 4)).toEqual([
      'today',
      'Sat 13',
      'Sun 14',
      'Mon 15',
    ]);
    expect(days.map((d, i) => (d.querySelector('button') ? i : -1)).filter((i) => i >= 0)).toEqual([12]);
    days[12]?.querySelector('button')?.click();
    expect(opened).toEqual(['a']);
    expect(host.textContent).toContain('Next: +1 201-555-0152 lands, Wed 24 Mar.');
  });

  it('leave no empty line behind where nothing falls due', async () => {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        { provide: SessionFacade, useValue: { now: signal(Date.now()), business: signal({ timeZone: ZONE }) } },
      ],
    });
    const fixture = TestBed.createComponent(DeadlineLine);
    fixture.componentRef.setInput('ports', []);
    await fixture.whenStable();
    expect((fixture.nativeElement as HTMLElement).querySelector('ol')).toBeNull();
  });
});
