import { ChangeDetectionStrategy, Component, provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import { RouterTestingHarness } from '@angular/router/testing';
import { SessionFacade } from '../state/session.facade';
import { Tabs } from './tabs';

@Component({
  imports: [Tabs],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<lg-tabs
    label="Consent"
    area="consent"
    [tabs]="[
      { path: '', text: 'Ledger' },
      { path: 'sources', text: 'Ways in and out' },
      { path: 'pages', text: 'Opt-in pages' },
    ]"
  />`,
})
class Page {}

describe('the places of an area', () => {
  const here = async (url: string): Promise<string[]> => {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideRouter([{ path: 'b/:businessId/consent', children: [{ path: '**', component: Page }] }]),
        { provide: SessionFacade, useValue: { businessId: signal('biz_1') } },
      ],
    });
    const harness = await RouterTestingHarness.create(url);
    await harness.fixture.whenStable();
    const nav = harness.routeNativeElement?.querySelector('nav');
    expect(nav?.getAttribute('aria-label')).toBe('Consent');
    return Array.from(nav?.querySelectorAll('a') ?? [])
      .filter((a) => a.getAttribute('aria-current') === 'page')
      .map((a) => a.textContent.trim());
  };

  it('say which of them one is at, also to whoever does not see it, whatever it is narrowed to', async () => {
    expect(await here('/b/biz_1/consent?purpose=promotional')).toEqual(['Ledger']);
  });
  it('say so below a place too, and of no other', async () => {
    expect(await here('/b/biz_1/consent/sources/opt-outs?open=x')).toEqual(['Ways in and out']);
  });
});
