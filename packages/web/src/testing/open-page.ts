import { provideZonelessChangeDetection, signal, type Type } from '@angular/core';
import type { HarnessLoader } from '@angular/cdk/testing';
import { TestbedHarnessEnvironment } from '@angular/cdk/testing/testbed';
import { TestBed } from '@angular/core/testing';
import { MatButtonHarness } from '@angular/material/button/testing';
import { provideRouter, Router, withComponentInputBinding, type Routes } from '@angular/router';
import { RouterTestingHarness } from '@angular/router/testing';
import type { Endpoint } from '@long-gate/contracts';
import { provideStore } from '@ngrx/store';
import { Api, ApiProblem } from '../app/api/api';
import { Confirm, type Question } from '../app/parts/confirm';
import { Say } from '../app/parts/say';
import { courseFeature } from '../app/state/course.feature';
import { liveFeature } from '../app/state/live.feature';
import { jobsFeature } from '../app/state/jobs.feature';
import { SessionFacade } from '../app/state/session.facade';

export interface Asked {
  id: string;
  params: Record<string, unknown>;
  query: Record<string, unknown>;
  body: unknown;
  /** The idempotency key, where the caller gives its own. */
  key?: string | undefined;
  version: number | undefined;
}
type Answer = unknown;

/** A server of answers by the id of what is asked; a function makes its answer of the question. */
export class FakeApi extends Api {
  readonly asked: Asked[] = [];
  constructor(readonly answers: Record<string, Answer>) {
    super();
  }
  override call(endpoint: Endpoint, call: object = {}): Promise<never> {
    const { params, query, body, version, key } = call as Partial<Asked>;
    const asked = { id: endpoint.id, params: params ?? {}, query: query ?? {}, body, version, key };
    this.asked.push(asked);
    const answer = this.answers[endpoint.id];
    if (answer === undefined) return Promise.reject(new ApiProblem(404, 'not-found', `nothing for ${endpoint.id}`, []));
    const made: unknown = typeof answer === 'function' ? (answer as (a: Asked) => unknown)(asked) : answer;
    return (
      made instanceof Error ? Promise.reject(made) : Promise.resolve(made).then((m) => structuredClone(m))
    ) as Promise<never>;
  }
  override file(endpoint: Endpoint, call: object = {}): Promise<never> {
    return this.call(endpoint, call);
  }
  /** What was asked of one kind. */
  of(id: string): Asked[] {
    return this.asked.filter((a) => a.id === id);
  }
}

export interface OpenPage {
  api: FakeApi;
  host: HTMLElement;
  loader: HarnessLoader;
  /** What was said at the foot of the page. */
  said: string[];
  /** Takes back what was last said to be done, where that is offered. */
  undo: (() => void) | undefined;
  /** What was asked before something was done; answered as `yes` says. */
  questions: Question[];
  yes: boolean;
  url: () => string;
  text: () => string;
  press: (words: string | RegExp) => Promise<void>;
  fill: (id: string, value: string) => Promise<void>;
  settle: () => Promise<void>;
}

export const BUSINESS = {
  id: 'biz_1',
  legalName: 'Heron Lane Bakery LLC',
  nameLine: 'Heron Lane',
  role: 'administrator',
  accountState: 'open',
  accountNote: '',
  balance: 12_000_000,
  timeZone: 'America/New_York',
  textsOff: false,
  version: 3,
};

/** Opens one page as somebody signed in has it, at an address, with a server of answers. */
export async function openPage(
  page: Type<unknown>,
  answers: Record<string, Answer>,
  over: {
    at?: string;
    role?: string;
    business?: object;
    path?: string;
    /** The area's own routes, where what is opened depends on them. */
    routes?: Routes;
    clockMoves?: boolean;
    now?: string;
  } = {},
): Promise<OpenPage> {
  localStorage.clear();
  const now = Date.parse(over.now ?? '2027-03-12T19:00:00Z');
  const api = new FakeApi({ 'audit.list': { items: [], next: null, total: 0 }, ...answers });
  const said: string[] = [];
  const business = signal({ ...BUSINESS, role: over.role ?? 'administrator', ...over.business });
  const session = {
    session: signal({
      user: { id: 'usr_1', name: 'Wren Holloway' },
      tables: {},
      businesses: [business()],
      clock: { now, movable: over.clockMoves ?? false },
    }),
    business,
    businessId: signal('biz_1'),
    role: signal(business().role),
    mayEdit: signal(business().role !== 'viewer'),
    isAdministrator: signal(business().role === 'administrator'),
    whenEnded: () => undefined,
    now: signal(now),
    mailbox: () => '',
    simulatedSite: () => '',
    load: () => Promise.resolve(),
    take: () => undefined,
    choose: () => undefined,
  };
  const opened = { questions: [] as Question[], yes: true, undo: undefined as (() => void) | undefined };
  TestBed.configureTestingModule({
    providers: [
      provideZonelessChangeDetection(),
      provideRouter(
        [...(over.routes ?? [{ path: over.path ?? 'page', component: page }]), { path: '**', children: [] }],
        withComponentInputBinding(),
      ),
      provideStore({
        [courseFeature.name]: courseFeature.reducer,
        [liveFeature.name]: liveFeature.reducer,
        [jobsFeature.name]: jobsFeature.reducer,
      }),
      { provide: Api, useValue: api },
      { provide: SessionFacade, useValue: session },
      {
        provide: Say,
        useValue: {
          done: (words: string, undo?: () => void) => {
            said.push(words);
            opened.undo = undo;
          },
          problem: (e: Error) => said.push(e.message),
        },
      },
      {
        provide: Confirm,
        useValue: {
          ask: (q: Question) => {
            opened.questions.push(q);
            return Promise.resolve(opened.yes);
          },
        },
      },
    ],
  });
  const harness = await RouterTestingHarness.create();
  const around = harness.fixture.nativeElement as HTMLElement;
  // As wide as a desk: columns leave where there is no room.
  around.style.width = '1600px';
  document.body.append(around);
  await harness.navigateByUrl(over.at ?? '/page', page);
  const settle = async (): Promise<void> => {
    for (let i = 0; i < 3; i++) {
      await harness.fixture.whenStable();
      // A frame: rows of a long table are drawn once their room was measured, however busy the machine is.
      await new Promise((r) => requestAnimationFrame(() => setTimeout(r, 5)));
    }
  };
  await settle();
  const host = harness.routeNativeElement as HTMLElement;
  const loader = TestbedHarnessEnvironment.loader(harness.fixture);
  return Object.assign(opened, {
    api,
    host,
    loader,
    said,
    settle,
    url: () => TestBed.inject(Router).url,
    text: () => host.textContent.replace(/\s+/g, ' '),
    press: async (words: string | RegExp) => {
      await (await loader.getHarness(MatButtonHarness.with({ text: words }))).click();
      await settle();
    },
    fill: async (id: string, value: string) => {
      const field = host.querySelector<HTMLInputElement>(`[id="${id}"]`);
      if (!field) throw new Error(`There is no field ${id}.`);
      field.focus();
      field.value = value;
      field.dispatchEvent(new Event('input', { bubbles: true }));
      field.dispatchEvent(new Event('change', { bubbles: true }));
      field.blur();
      await settle();
    },
  });
}

/** Takes the page that was opened off the screen. */
export function closePage(p: OpenPage | undefined): void {
  p?.host.parentElement?.remove();
  TestBed.resetTestingModule();
}
