import type { BrandView, CampaignView } from '@long-gate/contracts';
import { Office } from './office.js';

/** What two samples of a campaign that would be registered say. */
export const SAMPLES = [
  'Heron Lane: Hi [first name], rye bread from $4 until Friday. Reply STOP to end.',
  'Heron Lane: the bread class on Saturday has places left. Reply STOP to end.',
];

/** The registration of an office's business, step by step. */
export class Registering {
  constructor(readonly o: Office) {}

  /** An office with an address, which a brand needs. */
  static async open(): Promise<Registering> {
    const r = new Registering(await Office.open());
    await r.settle();
    return r;
  }

  /** Gives the business an address. */
  async settle(): Promise<void> {
    await this.o.app.platform.db.write((w) =>
      w.run(
        `UPDATE business SET street = '9 Mill Street', city = 'Quillmere', state = 'NJ', postal_code = '07030', website = 'https://heron.example'`,
      ),
    );
  }

  async brand(): Promise<BrandView> {
    return (await this.o.app.registration.dossier(this.o.business)).brand;
  }

  async balance(): Promise<number> {
    return (await this.o.app.businesses.row(this.o.app.platform.db, this.o.business)).balance;
  }

  async campaign(id: string): Promise<CampaignView> {
    return this.o.app.registration.campaigns.one(this.o.business, id);
  }

  async readyBrand(over: Partial<BrandView['body']> = {}, taxNumber: string | null = '36-1234567'): Promise<void> {
    const { admin, business, app } = this.o;
    const b = await this.brand();
    const body = { ...b.body, email: 'office@heron.example', ...over };
    await app.registration.brands.save(admin, business, b.version, body, taxNumber ?? undefined);
  }

  /** @returns the brand's id. */
  async submittedBrand(): Promise<string> {
    const { admin, business, app } = this.o;
    return (await app.registration.brands.submit(admin, business, 'wish-brand')).id;
  }

  async registeredBrand(): Promise<string> {
    await this.readyBrand();
    const id = await this.submittedBrand();
    await this.o.hear({ kind: 'brand.registered', key: `${id}:1` });
    return id;
  }

  /** @returns the id of a campaign that could be submitted. */
  async readyCampaign(): Promise<string> {
    const { admin, business, app } = this.o;
    const c = await app.registration.campaigns.add(admin, business, 'News', 'marketing');
    await app.registration.campaigns.save(admin, business, c.id, c.version, 'News', {
      ...c.body,
      description: 'Heron Lane sends people who joined its list news about bread and classes, about twice a month.',
      agreement: 'On the page heron.example/join people enter their number and tick a box of its own for news.',
      samples: SAMPLES,
      optInMessage:
        'Heron Lane: you joined bread news, 2 texts a month. Msg and data rates may apply. Reply HELP for help, STOP to end.',
      optOutMessage: 'Heron Lane: you are out and will get no more texts from us.',
      helpMessage: 'Heron Lane: write to office@heron.example. Reply STOP to end.',
      privacyUrl: 'https://heron.example/privacy',
      termsUrl: 'https://heron.example/terms',
    });
    return c.id;
  }
}
