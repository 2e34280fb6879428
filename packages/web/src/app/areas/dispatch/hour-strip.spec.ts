import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { SessionFacade } from '../../state/session.facade';
import { HourStrip } from './hour-strip';

const EVENING = Date.parse('2027-03-12T23:30:00Z');

describe('the strip of hours', () => {
  async function strip(hours: number[], from = EVENING): Promise<HTMLElement> {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        {
          provide: SessionFacade,
          useValue: { business: signal({ timeZone: 'America/New_York' }), now: signal(EVENING) },
        },
      ],
    });
    const fixture = TestBed.createComponent(HourStrip);
    fixture.componentRef.setInput('hours', hours);
    fixture.componentRef.setInput('from', from);
    fixture.componentRef.setInput('most', 100);
    await fixture.whenStable();
    return fixture.nativeElement as HTMLElement;
  }
  const words = (host: HTMLElement): string => host.querySelector('p')?.textContent ?? '';

  it('draws each hour by how many it leaves, and nothing for none', async () => {
    const host = await strip([100, 50, 1, 0]);
    const heights = [...host.querySelectorAll('rect.open')].map((r) => r.getAttribute('height'));
    expect(heights).toEqual(['26', '13', '1', '0']);
    expect(host.querySelectorAll('rect.open title')[1]?.textContent).toBe('Fri 19:00: 50');
  });

  it('says how many now, and when most', async () => {
    expect(words(await strip([40, 10, 0, 90, 90, 80]))).toBe(
      'By their hours 40 may be texted now, most of them, 90, from Fri 21:00 EST to Fri 23:00 EST.',
    );
  });

  it('says “then” of a time that is still to come', async () => {
    expect(words(await strip([40, 10, 0, 90], EVENING + 86_400_000))).toContain('40 may be texted then, most of them');
  });

  it('says that it will not be better than now, or that no hour is permitted', async () => {
    expect(words(await strip([40, 40, 10]))).toContain('40 may be texted now, and it is not more');
    TestBed.resetTestingModule();
    expect(words(await strip([0, 0]))).toContain('no hour is permitted');
  });

  it('marks days by the clock of the business, also where the clock changes', async () => {
    const saturdayNight = Date.parse('2027-03-14T04:10:00Z'); // Sat 23:10 EST; the clock goes forward at two
    const host = await strip(
      Array.from({ length: 26 }, () => 1),
      saturdayNight,
    );
    const days = [...host.querySelectorAll('text')].map((t) => [t.textContent, Number(t.getAttribute('x')) - 3]);
    // Sunday has 23 hours: Monday begins 24 cells after Saturday's last hour.
    expect(days).toEqual([
      ['Sun 14 Mar', 11],
      ['Mon 15 Mar', 24 * 11],
    ]);
  });
});
