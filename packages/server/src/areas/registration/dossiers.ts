import type { DossierRow } from '@long-gate/contracts';
import { registrationSteps, type StepFacts } from '@long-gate/core';
import type { Reader } from '../../platform/db.js';
import type { Platform } from '../../platform/platform.js';
import type { Businesses, People } from '../settings/index.js';
import type { Registration } from './registration.js';

/** What the steps are told of a business's numbers, by whoever has them. */
export type NumbersOfSteps = (r: Reader, businessId: string) => Promise<Pick<StepFacts, 'numbers' | 'senderIds'>>;

/** All businesses somebody works for, against the steps of their registration. */
export class Dossiers {
  private numbersOf: NumbersOfSteps = () => Promise.resolve({ numbers: [], senderIds: [] });

  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly registration: Registration,
    private readonly people: People,
  ) {}

  /** Whoever has the numbers says how they stand. */
  askNumbers(numbersOf: NumbersOfSteps): void {
    this.numbersOf = numbersOf;
  }

  /** Those a person has a part in, the oldest first. */
  async of(userId: string): Promise<DossierRow[]> {
    const rows = await this.businesses.of(userId);
    return Promise.all(
      rows.map(async (b) => {
        const { brand, campaigns, tollFree } = await this.registration.dossier(b.id);
        const { state, score, submittedAt, decidedAt, confirmation, vettings } = brand;
        return {
          businessId: b.id,
          legalName: b.legal_name,
          nameLine: b.name_line,
          form: brand.body.form,
          relation: brand.body.relation,
          people: (await this.people.list(b.id)).filter((p) => p.role === 'administrator').map((p) => p.name),
          steps: registrationSteps({
            account: b.account_state,
            brand: {
              state,
              score,
              submittedAt,
              decidedAt,
              form: brand.body.form,
              toMend: brand.findings.filter((finding) => finding.severity === 'block').length,
              confirmationLapsed: confirmation?.lapsed ?? false,
              vettingSince: vettings.find((v) => v.decidedAt === null)?.orderedAt ?? null,
            },
            campaigns: campaigns.map((c) => ({
              ...c,
              haltedAt: c.halt?.since ?? (c.state === 'expired' ? c.renewsAt : null),
            })),
            tollFree,
            ...(await this.numbersOf(this.p.db, b.id)),
          }),
        };
      }),
    );
  }
}
