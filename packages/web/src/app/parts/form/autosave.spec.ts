import { EnvironmentInjector, provideZonelessChangeDetection, runInInjectionContext, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { ApiProblem } from '../../api/api';
import { SessionFacade } from '../../state/session.facade';
import { Confirm } from '../confirm';
import { Autosave, type Kept } from './autosave';
import { Unsaved } from './unsaved';

interface Form {
  name: string;
  city: string;
  pin: string;
}
const FIRST: Kept<Form> = { value: { name: 'Heron', city: 'Aldersund', pin: '' }, version: 1 };
const KEY = 'thing thi_1';

/** A server with one thing, which others change too, and which can be away or slow. */
class Server {
  kept = FIRST;
  away = false;
  saves: Form[] = [];
  during: () => void = () => undefined;

  async save(value: Form, version: number): Promise<Kept<Form>> {
    await Promise.resolve();
    if (this.away) throw new ApiProblem(0, 'offline', 'The server does not answer.', []);
    if (version !== this.kept.version) throw new ApiProblem(412, 'changed-meanwhile', 'Changed.', []);
    this.during();
    if (value.name === '')
      throw new ApiProblem(422, 'refused', 'A name is missing.', [{ field: 'name', message: 'x' }]);
    this.saves.push(value);
    this.kept = { value, version: version + 1 };
    return this.kept;
  }
  byOthers(part: Partial<Form>): void {
    this.kept = { value: { ...this.kept.value, ...part }, version: this.kept.version + 1 };
  }
}

describe('saving by itself', () => {
  let server: Server;
  let form: Autosave<Form>;
  let leave = true;
  const open = (): Autosave<Form> => {
    const made = runInInjectionContext(
      TestBed.inject(EnvironmentInjector),
      () =>
        new Autosave<Form>({
          save: (v, n) => server.save(v, n),
          read: () => Promise.resolve(server.kept),
          lastChange: () => Promise.resolve({ by: 'Tobiah Fenwether', at: 1 }),
          secret: ['pin'],
        }),
    );
    made.take(KEY, server.kept);
    return made;
  };
  beforeEach(() => {
    localStorage.clear();
    leave = true;
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        { provide: SessionFacade, useValue: { session: signal({ user: { id: 'usr_1' } }) } },
        { provide: Confirm, useValue: { ask: () => Promise.resolve(leave) } },
      ],
    });
    server = new Server();
    form = open();
  });

  it('saves what was typed, and says so', async () => {
    expect(form.words()).toBe('');
    form.change({ name: 'Heron Lane' });
    expect([form.words(), form.dirty()]).toEqual(['not saved yet', true]);
    expect(await form.flush()).toBeTrue();
    expect(server.kept.value.name).toBe('Heron Lane');
    expect([form.words(), form.dirty()]).toEqual(['saved', false]);
  });

  it('goes on under the name that something new was given: what is typed and what is kept of it', () => {
    server.away = true;
    form.change({ name: 'Heron Lane' });
    form.rename('thing thi_9');
    // As the server has it under its own name: the words typed since are on top of it.
    form.take('thing thi_9', server.kept);
    expect([form.value()?.name, form.dirty()]).toEqual(['Heron Lane', true]);
    // After a reload they stand where the thing has its address, and nowhere else.
    const again = open();
    expect(again.value()?.name).toBe('Heron');
    again.take('thing thi_9', server.kept);
    expect(again.value()?.name).toBe('Heron Lane');
  });

  it('loses no key that is typed during a save', async () => {
    form.change({ name: 'Heron L' });
    server.during = () => {
      server.during = () => undefined;
      form.change({ name: 'Heron Lane', city: 'Northbank' });
    };
    await form.flush();
    expect(form.value()).toEqual({ name: 'Heron Lane', city: 'Northbank', pin: '' });
    expect(server.saves.map((s) => s.name)).toEqual(['Heron L', 'Heron Lane']);
  });

  it('keeps in the browser what the server does not take, and sends it when it is back', async () => {
    server.away = true;
    form.change({ name: 'Heron Lane', pin: '1234' });
    expect(await form.flush()).toBeFalse();
    expect(form.words()).toContain('kept in this browser');
    expect(JSON.stringify(localStorage)).not.toContain('1234');
    // The page is loaded anew: what was typed stands there again.
    const later = open();
    expect(later.value()?.name).toBe('Heron Lane');
    expect(later.recovered()).toBeTrue();
    server.away = false;
    globalThis.dispatchEvent(new Event('online'));
    expect(await later.flush()).toBeTrue();
    expect(server.kept.value.name).toBe('Heron Lane');
    expect(localStorage.length).toBe(0);
  });

  it('brings the edits of two people together where they changed different things', async () => {
    form.change({ name: 'Heron Lane' });
    server.byOthers({ city: 'Northbank' });
    expect(await form.flush()).toBeTrue();
    expect(server.kept.value).toEqual({ name: 'Heron Lane', city: 'Northbank', pin: '' });
  });

  it('shows mine and theirs where both changed the same, and saves nothing before it is chosen', async () => {
    form.change({ name: 'Heron Lane', city: 'Northbank' });
    server.byOthers({ name: 'Heron Quay' });
    expect(await form.flush()).toBeFalse();
    expect(form.conflicts()).toEqual([{ field: 'name', base: 'Heron', mine: 'Heron Lane', theirs: 'Heron Quay' }]);
    await Promise.resolve();
    expect(form.theirs()).toEqual({ by: 'Tobiah Fenwether', at: 1 });
    expect(server.saves).toEqual([]);
    form.choose('name', 'theirs');
    expect(await form.flush()).toBeTrue();
    expect(server.kept.value).toEqual({ name: 'Heron Quay', city: 'Northbank', pin: '' });
  });

  it('loses nothing of a conflict by reloading the page either', async () => {
    server.away = true;
    form.change({ name: 'Heron Lane' });
    await form.flush();
    server.away = false;
    server.byOthers({ name: 'Heron Quay' });
    const later = open();
    expect(later.conflicts().map((c) => [c.mine, c.theirs])).toEqual([['Heron Lane', 'Heron Quay']]);
    // And once more, now that it has been seen: nothing is saved over theirs unasked.
    const again = open();
    expect(again.conflicts().map((c) => [c.mine, c.theirs])).toEqual([['Heron Lane', 'Heron Quay']]);
    expect([await again.flush(), server.kept.value.name]).toEqual([false, 'Heron Quay']);
    again.choose('name', 'mine');
    await again.flush();
    expect(server.kept.value.name).toBe('Heron Lane');
  });

  it('takes what others saved while nothing is typed here', () => {
    server.byOthers({ city: 'Northbank' });
    form.take(KEY, server.kept);
    expect([form.value()?.city, form.dirty(), form.version()]).toEqual(['Northbank', false, 2]);
    form.take(KEY, FIRST);
    expect(form.value()?.city).withContext('an answer that came late').toBe('Northbank');
  });

  it('says why something is refused, and stops saying it once it is mended', async () => {
    form.change({ name: '' });
    expect(await form.flush()).toBeFalse();
    expect(form.words()).toBe('not saved: A name is missing.');
    expect(form.refused()).toEqual([{ field: 'name', message: 'x' }]);
    form.change({ name: 'Heron' });
    expect(form.refused()).toEqual([]);
  });

  it('saves before the page is left, and asks where it cannot', async () => {
    const unsaved = TestBed.inject(Unsaved);
    form.change({ name: 'Heron Lane' });
    expect(await unsaved.mayLeave()).toBeTrue();
    expect(server.kept.value.name).toBe('Heron Lane');
    server.away = true;
    form.change({ name: 'Heron Quay' });
    leave = false;
    expect(await unsaved.mayLeave()).toBeFalse();
    leave = true;
    expect(await unsaved.mayLeave()).toBeTrue();
  });
});
