import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { SessionFacade } from '../../state/session.facade';
import { RepliesPage } from './replies';
import { RepliesStore } from './replies.store';

const review = (id: string, over: object = {}) => ({ id, about: 'stop', stopped: false, ...over });

describe('replies decided by keys', () => {
  let fixture: ComponentFixture<RepliesPage>;
  let decided: string[];
  const items = signal([review('a'), review('b', { stopped: true }), review('c', { about: 'yes' })]);
  const mayEdit = signal(true);
  const isAdministrator = signal(true);

  beforeEach(async () => {
    decided = [];
    mayEdit.set(true);
    isAdministrator.set(true);
    items.set([review('a'), review('b', { stopped: true }), review('c', { about: 'yes' })]);
    const store = {
      items,
      right: signal(3),
      decided: signal(4),
      acting: { busy: signal(false) },
      decide: (id: string, readAs: string) => Promise.resolve(void decided.push(`${id} ${readAs}`)),
    };
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        { provide: SessionFacade, useValue: { mayEdit, isAdministrator, now: signal(0), businessId: signal('b') } },
      ],
    });
    TestBed.overrideComponent(RepliesPage, {
      set: { template: '<input id="typing" />', imports: [], providers: [{ provide: RepliesStore, useValue: store }] },
    });
    fixture = TestBed.createComponent(RepliesPage);
    await fixture.whenStable();
  });

  const press = (key: string, on: EventTarget = document.body): void =>
    void on.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));

  it('speaks of the first until another is chosen by arrow', () => {
    press('s');
    press('ArrowDown');
    press('ArrowDown');
    press('n');
    expect(decided).toEqual(['a stop', 'c no wish']);
  });

  it('takes only what may be decided of this one: nobody but the contact lifts an opt-out', () => {
    press('ArrowDown');
    press('n');
    press('o');
    press('s');
    expect(decided).toEqual(['b stop']);
  });

  it('lets a coordinator record a wish, but not read a reply as none: that lifts a hold', () => {
    isAdministrator.set(false);
    press('n');
    press('s');
    press('ArrowDown');
    press('ArrowDown');
    press('n');
    expect(decided).toEqual(['a stop']);
  });

  it('does nothing while somebody types, and nothing for one who may only read', () => {
    press('s', fixture.nativeElement.querySelector('#typing') as HTMLElement);
    mayEdit.set(false);
    press('s');
    expect(decided).toEqual([]);
  });
});
