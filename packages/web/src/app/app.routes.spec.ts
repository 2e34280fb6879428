import { Location } from '@angular/common';
import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { Title } from '@angular/platform-browser';
import { provideRouter, Router, TitleStrategy, withComponentInputBinding, type Routes } from '@angular/router';
import { RouterTestingHarness } from '@angular/router/testing';
import { routes } from './app.routes';
import { TabTitle } from './frame/tab-title';
import { SessionFacade } from './state/session.facade';
import { Nowhere } from './welcome/nowhere';

const business = (id: string, nameLine: string) => ({ id, nameLine, factorMissing: false });

/** The application's own addresses and guards, with a page in each area's place that has nothing to ask. */
const bare = (all: Routes): Routes =>
  all.map(({ loadComponent: _, loadChildren: __, children, ...r }) => ({
    ...r,
    ...(children ? { children: bare(children) } : r.redirectTo === undefined ? { component: Nowhere } : {}),
  }));

describe('addresses', () => {
  const open = async (at: string, signedIn = true): Promise<RouterTestingHarness> => {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideRouter(bare(routes), withComponentInputBinding()),
        { provide: TitleStrategy, useClass: TabTitle },
        {
          provide: SessionFacade,
          useValue: {
            session: signal({
              setupNeeded: false,
              user: signedIn ? { id: 'usr_1' } : null,
              businesses: [business('biz_1', 'Heron Lane'), business('biz_2', 'Northbank Seeds')],
            }),
          },
        },
      ],
    });
    const harness = await RouterTestingHarness.create();
    await harness.navigateByUrl(at);
    return harness;
  };
  const tab = (): string => TestBed.inject(Title).getTitle();

  it('of a business somebody has no part in show no other business, and stay to be mended', async () => {
    const { routeNativeElement: page } = await open('/b/biz_9/numbers?open=num_1');
    expect(page?.textContent).toContain('No business of yours is at this address');
    expect(TestBed.inject(Location).path()).toBe('/b/biz_9/numbers?open=num_1');
  });

  it('name the business in the browser’s tab, and change it with the business', async () => {
    await open('/b/biz_1/numbers');
    expect(tab()).toBe('Numbers · Heron Lane · Long Gate');
    await TestBed.inject(Router).navigateByUrl('/b/biz_2/today');
    expect(tab()).toBe('Today · Northbank Seeds · Long Gate');
    await TestBed.inject(Router).navigateByUrl('/nothing/here');
    expect(tab()).toBe('Not here · Long Gate');
  });

  it('lead to the sign-in and back to where one was going', async () => {
    await open('/b/biz_1/numbers?open=num_1', false);
    expect(TestBed.inject(Router).url).toBe(`/sign-in?to=${encodeURIComponent('/b/biz_1/numbers?open=num_1')}`);
  });
});
