import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { ApiProblem } from '../../../api/api';
import { closePage, openPage, type Asked, type OpenPage } from '../../../../testing/open-page';
import { PortNumbers } from './port-numbers';
import { PortStore } from './port.store';

const [FIRST, SECOND] = ['+16095550110', '+16095550111'] as const;
const number = (e164: string, over: object = {}) => ({
  e164,
  kind: 'landline',
  losingCarrier: 'Harth Telephone',
  portable: true,
  whyNot: '',
  label: '',
  campaignId: null,
  forwardTo: '',
  numberId: null,
  ...over,
});

@Component({
  imports: [PortNumbers],
  providers: [PortStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `@if (store.port(); as p) {
    <lg-port-numbers [port]="p" [editable]="true" [findings]="[]" [before]="before" />
  }`,
})
class Host {
  protected readonly store = inject(PortStore);
  protected readonly before = (): Promise<boolean> => Promise.resolve(true);
  constructor() {
    this.store.about(signal('prt_1'));
  }
}

describe('the numbers of a port request', () => {
  let p: OpenPage;
  /** The request as the server has it. */
  let port: { id: string; state: string; version: number; numbers: ReturnType<typeof number>[]; reasons: unknown[] };
  let refuse: ApiProblem | null;
  const prepare = (a: Asked) => {
    if (refuse) return refuse;
    if (a.version !== port.version) return new ApiProblem(412, 'changed-meanwhile', 'Somebody changed it.', []);
    const body = a.body as ReturnType<typeof number>;
    port = {
      ...port,
      version: port.version + 1,
      numbers: port.numbers.map((n) => (n.e164 === body.e164 ? { ...n, ...body } : n)),
    };
    return port;
  };
  const open = async (): Promise<void> => {
    p = await openPage(Host, {
      'ports.get': () => port,
      'ports.prepare': prepare,
      'ports.numbers': (a: Asked) => {
        const gone = (a.body as { remove: string[] }).remove;
        return (port = {
          ...port,
          version: port.version + 1,
          numbers: port.numbers.filter((n) => !gone.includes(n.e164)),
        });
      },
      'registration.get': { brand: {}, campaigns: [{ id: 'cmp_1', name: 'Fares', state: 'registered' }] },
    });
  };
  const rest = async (): Promise<void> => {
    await new Promise((r) => setTimeout(r, 750));
    await p.settle();
  };
  const field = (id: string): string => p.host.querySelector<HTMLInputElement>(`[id="${id}"]`)?.value ?? '';
  beforeEach(() => {
    refuse = null;
    port = { id: 'prt_1', state: 'draft', version: 4, numbers: [number(FIRST), number(SECOND)], reasons: [] };
  });
  afterEach(() => closePage(p));

  it('are prepared by themselves as they are typed, those alone that were touched, and each whole', async () => {
    await open();
    await p.fill(`label-${SECOND}`, 'Ferry desk');
    await p.fill(`campaign-${SECOND}`, 'cmp_1');
    await p.fill(`calls-${SECOND}`, '212 555 0123');
    await rest();
    expect(p.api.of('ports.prepare').map((a) => [a.version, a.body])).toEqual([
      [4, { e164: SECOND, label: 'Ferry desk', campaignId: 'cmp_1', forwardTo: '212 555 0123' }],
    ]);
    expect(p.text()).toContain('saved');
  });

  it('keep what was typed while the server does not answer, and send it when it does', async () => {
    refuse = new ApiProblem(0, 'offline', 'The server does not answer.', []);
    await open();
    await p.fill(`label-${FIRST}`, 'Ferry desk');
    await rest();
    expect(p.text()).toContain('not saved: the server does not answer; kept in this browser');
    expect(field(`label-${FIRST}`)).toBe('Ferry desk');
    refuse = null;
    window.dispatchEvent(new Event('online'));
    await rest();
    expect(port.numbers[0]?.label).toBe('Ferry desk');
  });

  it('say at its field what is refused, and leave it there to be mended', async () => {
    refuse = new ApiProblem(422, 'invalid', 'That is no number.', [{ field: 'forwardTo', message: 'Too few digits.' }]);
    await open();
    await p.fill(`calls-${SECOND}`, '212');
    await rest();
    const cell = p.host.querySelector(`[id="calls-${SECOND}"]`)?.closest('.field');
    expect(cell?.querySelector('[role="alert"]')?.textContent).toBe('Too few digits.');
    expect(field(`calls-${SECOND}`)).toBe('212');
    const about = p.host.querySelector(`[id="calls-${SECOND}"]`)?.getAttribute('aria-describedby')?.split(/\s+/) ?? [];
    expect(about.map((id) => document.getElementById(id)?.textContent))
      .withContext('read out with its field')
      .toEqual(['Too few digits.']);
    expect(
      p.host.querySelector(`[id="calls-${FIRST}"]`)?.closest('.field')?.querySelector('[role="alert"]'),
    ).toBeNull();
  });

  it('let a colleague’s change of another number stand, and ask where both named the same', async () => {
    await open();
    port = { ...port, version: 9, numbers: [number(FIRST, { label: 'Quay' }), number(SECOND, { label: 'Pier' })] };
    await p.fill(`label-${SECOND}`, 'Ferry desk');
    await rest();
    expect(field(`label-${FIRST}`)).toBe('Quay');
    expect(p.text()).toContain('Label of +1 609-555-0111');
    expect(port.numbers[1]?.label).withContext('nobody is overwritten unasked').toBe('Pier');
    await p.press('Keep yours');
    await rest();
    expect(port.numbers.map((n) => n.label)).toEqual(['Quay', 'Ferry desk']);
  });

  it('save what somebody goes back to after a colleague has changed it, and nothing of the other numbers', async () => {
    port = { ...port, numbers: [number(FIRST), number(SECOND, { label: 'Quay' })] };
    await open();
    port = { ...port, version: 9, numbers: [number(FIRST, { label: 'Mole' }), number(SECOND, { label: 'Pier' })] };
    await p.fill(`label-${SECOND}`, 'Dock');
    await rest();
    await p.fill(`label-${SECOND}`, 'Quay');
    await rest();
    expect(port.numbers.map((n) => n.label)).toEqual(['Mole', 'Quay']);
    expect(new Set(p.api.of('ports.prepare').map((a) => (a.body as { e164: string }).e164))).toEqual(new Set([SECOND]));
  });

  it('are saved before one of them is taken out', async () => {
    await open();
    await p.fill(`label-${FIRST}`, 'Ferry desk');
    await p.press('take out');
    expect(p.api.of('ports.prepare').length).toBe(1);
    expect(p.api.of('ports.numbers').map((a) => [a.version, a.body])).toEqual([[5, { add: '', remove: [FIRST] }]]);
    expect(p.host.querySelector(`[id="label-${FIRST}"]`)).toBeNull();
  });
});
