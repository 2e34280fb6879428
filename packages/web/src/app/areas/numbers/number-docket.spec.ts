import { ChangeDetectionStrategy, Component, signal } from '@angular/core';
import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import type { NumberView } from '@long-gate/contracts';
import { reviewDisclosure } from '@long-gate/core';
import { closePage, openPage, type OpenPage } from '../../../testing/open-page';
import { ApiProblem } from '../../api/api';
import { NumberDocket } from './number-docket';

const shown = signal({
  id: 'num_1',
  e164: '+15515550160',
  label: 'Harbour office',
  description: '',
  kind: 'local',
  capabilities: ['send', 'receive', 'voice'],
  source: 'bought',
  state: 'active',
  note: '',
  monthly: 1_300_000,
  orderId: '',
  throughput: '',
  lastUsedAt: null,
  releaseFinalAt: null,
  ended: '',
  endedAt: null,
  orderedBy: null,
  cardName: 'Heron Lane orders',
  cardPicture: false,
  programme: null,
  defaultFor: [],
  campaignId: null,
  campaignName: null,
  campaignState: null,
  tieState: 'none',
  clearance: '',
  orderedAt: 1,
  activeAt: 1,
  version: 5,
  answers: [],
  deciding: { result: 'stop', why: 'our number is in no campaign', lift: 'tie it to a registered campaign' },
  nextStep: { title: 'Tie it to a campaign.', why: 'Networks refuse texts otherwise.', action: 'tie' },
} as unknown as NumberView);

@Component({
  selector: 'lg-around',
  imports: [NumberDocket],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<lg-number-docket [number]="shown()" />`,
})
class Around {
  protected readonly shown = shown;
}

describe('a number', () => {
  let p: OpenPage;
  const guard = (over: object = {}) => ({
    lock: 'locked',
    askedBy: '',
    askedAt: null,
    aloneFrom: null,
    answered: null,
    mayConfirm: false,
    whyNot: '',
    unlockedUntil: null,
    attempts: [],
    ...over,
  });
  const open = async (over: object = {}, role = 'administrator'): Promise<void> => {
    p = await openPage(
      Around,
      {
        'registration.get': {
          campaigns: [
            { id: 'cmp_1', name: 'Customer care', state: 'registered' },
            { id: 'cmp_2', name: 'Winter', state: 'declined' },
          ],
        },
        'numbers.tie': { done: true },
        'numbers.edit': shown(),
        'numbers.release-preview': {
          contacts: 1243,
          dispatches: ['Fog this morning'],
          pages: ['The rye club'],
          keywords: ['At the till'],
        },
        'numbers.release': { done: true },
        'guard.get': guard(),
        'guard.lock': guard({ lock: 'asked', askedBy: 'Wren Holloway', askedAt: 1, lapsesAt: 2 }),
        'guard.refuse': guard(),
        'guard.pin': { pin: '4711' },
        'calls.get': { way: 'none', forwardTo: '', greeting: '', textBack: '', invites: false, list: '' },
        'calls.set': (a: { body: unknown }) => a.body,
        'lists.list': { items: [] },
        ...over,
      },
      { role },
    );
  };
  afterEach(() => closePage(p));

  it('says the one next step, and ties to a campaign that is registered once that is confirmed', async () => {
    await open();
    expect(p.host.querySelector('.step')?.textContent).toContain('Tie it to a campaign.');
    expect(p.text()).not.toContain('Tie to Winter');
    await p.press('Tie to Customer care');
    expect(p.questions[0]?.line).toContain('A number is in one campaign at a time.');
    expect(p.api.of('numbers.tie').map((a) => a.body)).toEqual([{ campaignId: 'cmp_1' }]);
  });

  it('is renamed from the version that is shown; a refusal stands at its field and nothing is lost', async () => {
    await open({
      'numbers.edit': new ApiProblem(422, 'refused', 'No.', [{ field: 'label', message: 'Another number has it.' }]),
    });
    await p.press('Edit label, description and card name');
    await p.fill('label', 'Quay');
    await p.press('Save');
    expect(p.api.of('numbers.edit').map((a) => [a.version, a.body])).toEqual([
      [5, { label: 'Quay', description: '', cardName: 'Heron Lane orders' }],
    ]);
    expect(document.getElementById('label-wrong')?.textContent?.trim()).toBe('Another number has it.');
    expect(p.host.querySelector<HTMLInputElement>('#label')?.value).toBe('Quay');
  });

  it('has a name for the public card, beside the label that colleagues see, and a picture of one’s own', async () => {
    await open({ 'numbers.card-picture': shown() });
    expect(p.host.querySelector('.card')?.textContent).toContain('Heron Lane orders');
    expect(p.host.querySelector('.card img')?.getAttribute('src')).toBe('/api/v1/public/cards/num_1/picture?v=5');
    const input = p.host.querySelector<HTMLInputElement>('input[type=file]');
    const given = new DataTransfer();
    given.items.add(new File(['abc'], 'sign.png', { type: 'image/png' }));
    if (input) input.files = given.files;
    input?.dispatchEvent(new Event('change'));
    await p.settle();
    await p.settle();
    expect(p.api.of('numbers.card-picture').map((a) => a.body)).toEqual([
      { file: { name: 'sign.png', base64: btoa('abc') } },
    ]);
  });

  it('starts a greeting from a template with all that people agree to, and has lists to choose from', async () => {
    await open({
      'lists.list': {
        items: [
          { id: 'l', name: 'Regulars', kind: 'list', count: 1 },
          { id: 't', name: 'vip', kind: 'tag', count: 1 },
        ],
      },
    });
    await p.press('Change call handling');
    const way = p.host.querySelector<HTMLSelectElement>('#way');
    if (way) way.value = 'greet';
    way?.dispatchEvent(new Event('change'));
    await p.settle();
    await (await p.loader.getHarness(MatCheckboxHarness.with({ label: /It invites to join/ }))).check();
    await p.press('Start from a greeting that tells all they agree to');
    const greeting = p.host.querySelector<HTMLTextAreaElement>('#greeting')?.value ?? '';
    expect(greeting).toContain('press 1');
    expect(reviewDisclosure(greeting, { legalName: 'Heron Lane Bakery LLC', nameLine: 'Heron Lane' }, 'g')).toEqual([]);
    const lists = [...p.host.querySelectorAll('#list option')].map((o) => o.textContent?.trim());
    expect(lists).toEqual(['choose the list…', 'Regulars']);
  });

  it('leaves what is being typed where it is when something else about it changes', async () => {
    await open();
    await p.press('Edit label, description and card name');
    await p.fill('label', 'Quay');
    shown.update((n) => ({ ...n, lastUsedAt: 2, version: 6 }));
    await p.settle();
    expect(p.host.querySelector<HTMLInputElement>('#label')?.value).toBe('Quay');
    shown.update((n) => ({ ...n, version: 5 }));
  });

  it('is released only after what is lost was said, and its last four digits written', async () => {
    await open();
    await p.press('Release the number…');
    expect(p.questions[0]?.line).toContain('1,243 contact numbers know it');
    expect(p.questions[0]?.line).toContain(
      'dispatch “Fog this morning”, opt-in page “The rye club”, keyword “At the till”',
    );
    expect(p.questions[0]?.written?.is).toBe(shown().e164.slice(-4));
    expect(p.api.of('numbers.release').map((a) => a.body)).toEqual([{ digits: shown().e164.slice(-4) }]);
    closePage(p);
    await open();
    p.yes = false;
    await p.press('Release the number…');
    expect(p.api.of('numbers.release')).toEqual([]);
  });

  it('is unlocked by nobody alone at once', async () => {
    await open();
    await p.press('Unlock…');
    expect(p.api.of('guard.lock').map((a) => a.body)).toEqual([{ wish: 'ask to unlock' }]);
    expect(p.text()).toContain('Unlocking asked for by Wren Holloway');
    const yes = Array.from(p.host.querySelectorAll('button')).find((b) => b.textContent.includes('Say yes'));
    expect(yes?.disabled).toBeTrue();
  });

  it('shows who wants to take it away, and refuses them', async () => {
    const attempt = { key: 'out_1', carrier: 'Harth Telephone', at: 1, deadline: 2, state: 'open', locked: false };
    await open({ 'guard.get': guard({ lock: 'unlocked', attempts: [attempt] }) });
    expect(p.text()).toContain('Harth Telephone wants to take this number away.');
    await p.press('Refuse it');
    expect(p.api.of('guard.refuse').map((a) => a.body)).toEqual([{ key: 'out_1' }]);
  });

  it('answers calls as it is told, checked before it is asked of the network', async () => {
    await open();
    await p.press('Change call handling');
    await p.fill('way', 'forward');
    await p.press('Save');
    expect(document.getElementById('forwardTo-wrong')?.textContent?.trim()).toBe('Say where calls go.');
    expect(p.api.of('calls.set')).toEqual([]);
    await p.fill('forwardTo', '201-555-0199');
    await p.press('Save');
    expect(p.text()).toContain('Put through to 201-555-0199.');
  });

  it('shows a viewer what there is and no way to change it', async () => {
    await open({}, 'viewer');
    for (const words of ['Release the number', 'Unlock…', 'release PIN', 'Change call handling', 'Edit label'])
      expect(p.text()).not.toContain(words);
  });
});
