import { ChangeDetectionStrategy, Component } from '@angular/core';
import { MatCheckboxHarness } from '@angular/material/checkbox/testing';
import { MatButtonHarness } from '@angular/material/button/testing';
import { throughputOf, USE_CASES, whoMay } from '@long-gate/core';
import { closePage, openPage, type OpenPage } from '../../../testing/open-page';
import { BeginCampaign } from './begin-campaign';
import { DossierStore } from './dossier.store';

@Component({
  selector: 'lg-around',
  imports: [BeginCampaign],
  providers: [DossierStore],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<lg-begin-campaign />`,
})
class Around {}

describe('beginning a campaign', () => {
  let p: OpenPage;
  const open = async (form: string, score: number | null = 62): Promise<void> => {
    p = await openPage(Around, {
      'registration.get': {
        brand: { state: 'registered', score, body: { form }, findings: [] },
        campaigns: [],
        tollFree: [],
      },
      'registration.addCampaign': { id: 'cmp_9' },
    });
  };
  afterEach(() => closePage(p));
  const rowOf = (label: string): string =>
    [...p.host.querySelectorAll('tr')].find((r) => r.textContent.includes(label))?.textContent.replace(/\s+/g, ' ') ??
    '';

  it('compares every use by fee, samples, offers, pace and who may, before the choice', async () => {
    await open('private company');
    for (const u of USE_CASES) {
      const row = rowOf(u.label);
      expect(row)
        .withContext(u.label)
        .toContain((u.monthly / 1_000_000).toFixed(2));
      expect(row)
        .withContext(u.label)
        .toContain(u.onlyFor ? `only ${whoMay(u)}` : 'all but a sole proprietor');
      expect(row.includes('may be sent')).withContext(u.label).toBe(u.promotional);
    }
    const { campaignPerSecond } = throughputOf('private company', 62, 'marketing');
    expect(rowOf('Marketing')).toContain(String(campaignPerSecond));
    expect(rowOf('Low-volume mixed')).toContain('1.25');
  });

  it('lets nobody choose what is not for them', async () => {
    await open('private company');
    const use = async (text: string) => p.loader.getHarness(MatButtonHarness.with({ text }));
    expect(await (await use('Charity')).isDisabled()).toBeTrue();
    expect(await (await use('Marketing')).isDisabled()).toBeFalse();
    closePage(p);
    await open('non-profit', null);
    expect(await (await use('Charity')).isDisabled()).toBeFalse();
    expect(p.text()).toContain('not vetted yet');
  });

  it('finds the use from what one wants to send, and takes the uses a mixed one names', async () => {
    await open('private company');
    const tick = async (label: string) => (await p.loader.getHarness(MatCheckboxHarness.with({ label }))).toggle();
    await tick('Offers, sales or news');
    await p.settle();
    expect(p.text()).toMatch(/Low-volume mixed\s*fits\./);
    await tick('At most 2,000 segments a day, all together');
    await tick('Notices about a booking, an order or an account');
    await p.settle();
    expect(p.text()).toMatch(/Mixed\s*\(Marketing, Account notification\)\s*fits\./);
    await p.press('Choose it');
    await p.fill('new-name', 'All of it');
    await p.press('Begin');
    expect(p.api.of('registration.addCampaign').map((a) => a.body)).toEqual([
      { name: 'All of it', useCase: 'mixed', subUses: ['marketing', 'account-notification'] },
    ]);
    closePage(p);
    await open('private company');
    await tick('Warnings of danger to life or property');
    await p.settle();
    expect(p.text()).toContain('is not for a private company');
  });

  it('asks for name and use, and begins with both', async () => {
    await open('private company');
    await p.press('Begin');
    expect(p.api.of('registration.addCampaign')).toEqual([]);
    expect(p.text()).toContain('Choose what the campaign is for.');
    await p.fill('new-name', 'Fares');
    await p.press('Marketing');
    expect(p.text()).toContain('Chosen: Marketing');
    expect(p.text()).not.toContain('Choose what the campaign is for.');
    await p.press('Begin');
    expect(p.api.of('registration.addCampaign').map((a) => a.body)).toEqual([
      { name: 'Fares', useCase: 'marketing', subUses: [] },
    ]);
    expect(p.url()).toBe('/b/biz_1/registration/campaigns/cmp_9');
  });
});
