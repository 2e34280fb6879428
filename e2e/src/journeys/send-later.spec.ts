import type { Person } from '../running.js';
import { Desk } from './desk.js';
import type { Screen } from './screen.js';

interface Seen {
  state: string;
  schedule: { at: number } | null;
}

describe('sending later on screen', () => {
  let desk: Desk;
  let s: Screen;
  let person: Person;
  let business = '';

  beforeAll(async () => {
    desk = await Desk.open();
    ({ screen: s, person } = desk);
    business = desk.business('Saltmarsh Ferries');
  });
  afterAll(async () => {
    await desk.close();
  });

  const seen = (sheet = s.page.url()): Promise<Seen> =>
    person.ok<Seen>('GET', `/businesses/${business}/dispatches/${sheet.split('/').at(-1) ?? ''}`);

  it('is chosen with the hours before the eyes, confirmed with the day, and stands in the calendar', async () => {
    await s.go('dispatch');
    await s.press('Easter timetable');
    await s.choose('select[aria-label="Sending number"]', '+1 201-555-0142');
    // Fewer people, each of whose receipts is a moment the clock stops at.
    await s.choose('select[aria-label="Leave out a list or tag"]', 'Fare list');
    await s.see('pass now');
    await s.choose('#when', 'at a time here');
    await s.fill('when-day', '16 Mar 2027');
    await s.fill('when-time', '03:00');
    await s.see('Begins 16 Mar 2027, 03:00 EDT.');
    await s.see('would be held');
    await s.press(': take it');
    await s.see('Begins 16 Mar 2027');
    await s.press('Schedule…');
    await s.press('Schedule it');
    await s.see('Its audience is resolved anew when it leaves');
    const at = (await seen()).schedule?.at ?? 0;
    expect(new Date(at).toISOString().slice(0, 10)).toBe('2027-03-16');
    await s.go('dispatch/calendar');
    await s.see('Easter timetable');
    const file = String((await person.call('GET', `/businesses/${business}/dispatches.ics`)).body['text']);
    expect(file).toContain('Easter timetable');
  });

  it('is called off to be changed, and leaves nothing at its old time', async () => {
    await s.press('Easter timetable');
    await s.press('Call it off and change it…');
    await s.tap('[data-yes]');
    await s.page.waitForFunction(() => document.querySelector<HTMLInputElement>('#when-day')?.value.includes('16 Mar'));
    expect([(await seen()).state, (await seen()).schedule]).toEqual(['draft', null]);
    await s.fill('when-day', '12 Mar 2027');
    await s.fill('when-time', '17:00');
    await s.see('Begins 12 Mar 2027, 17:00 EST.');
    await s.press('Schedule…');
    await s.press('Schedule it');
    await s.see('Its audience is resolved anew when it leaves');
    expect((await seen()).state).toBe('scheduled');
  });

  it('leaves at its time on the clock, and not before', async () => {
    // Nobody looks on meanwhile: a sheet that is open is drawn anew with each text.
    const sheet = s.page.url();
    await s.go('settings');
    await person.jump('hour');
    expect((await seen(sheet)).state).toBe('scheduled');
    for (let i = 0; i < 3 && (await seen(sheet)).state === 'scheduled'; i++) await person.jump('hour');
    await s.page.goto(sheet, { waitUntil: 'load' });
    await s.see('delivered');
    expect((await seen()).state).not.toBe('scheduled');
    expect(s.errors).toEqual([]);
    // The clock works off whatever falls due on the way, text by text.
  });
});
