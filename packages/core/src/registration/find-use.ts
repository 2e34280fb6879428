import { mayHave, useCase } from './terms.data.js';
import type { LegalForm } from './legal-forms.data.js';

/** What somebody may want to send, asked in plain words, with the use it falls under. */
export const WANTS = [
  { key: 'news', asks: 'Offers, sales or news', use: 'marketing' },
  { key: 'notices', asks: 'Notices about a booking, an order or an account', use: 'account-notification' },
  { key: 'reminders', asks: 'Reminders of what people have arranged', use: 'account-notification' },
  { key: 'parcels', asks: 'Where a parcel or delivery is', use: 'delivery-notification' },
  { key: 'answers', asks: 'Answers to people who write or call first', use: 'customer-care' },
  { key: 'codes', asks: 'Codes to sign in with', use: 'two-factor' },
  { key: 'donations', asks: 'Thanks and requests to donors and helpers', use: 'charity' },
  { key: 'surveys', asks: 'Surveys or votes that are about no office', use: 'polling' },
  { key: 'election', asks: 'Texts for a candidate or a question on the ballot', use: 'political' },
  { key: 'school', asks: 'What a college or university tells its students', use: 'higher-education' },
  { key: 'public', asks: 'Announcements in the public interest', use: 'public-service' },
  { key: 'fraud', asks: 'Warnings of suspicious payments or sign-ins', use: 'fraud-alert' },
  { key: 'security', asks: 'Warnings about a system or a place', use: 'security-alert' },
  { key: 'danger', asks: 'Warnings of danger to life or property', use: 'emergency' },
] as const;
export type Want = (typeof WANTS)[number]['key'];

export interface FoundUse {
  /** Empty where none fits. */
  useCase: string;
  /** The named uses of a mixed one. */
  subUses: string[];
  /** Why this one, and what it means. */
  why: string;
}

/** Uses that stand by themselves and are joined with no other. */
const ALONE = ['emergency', 'political'];
/** As many uses as a mixed campaign names. */
const MOST = 5;

/**
 * Which use fits what somebody wants to send. One thing has its own use; several make a mixed campaign, the low-volume
 * one where little is sent; what stands alone gets a campaign of its own. source: rules.md, A2P 10DLC (use cases).
 * @param few at most 2,000 segments a day.
 */
export function findUse(
  wants: readonly Want[],
  { form, few, numbers }: { form: LegalForm; few: boolean; numbers: number },
): FoundUse {
  const uses = [...new Set(WANTS.filter((w) => wants.includes(w.key)).map((w) => w.use as string))];
  if (uses.length === 0) return { useCase: '', subUses: [], why: '' };
  if (form === 'sole proprietor')
    return {
      useCase: 'sole-proprietor',
      subUses: [],
      why: 'A sole proprietor has one campaign, and it covers all of it.',
    };
  const closed = uses.filter((code) => {
    const use = useCase(code);
    return use && !mayHave(use, form);
  });
  const barred = closed.find((code) => ALONE.includes(code)) ?? (closed.length === uses.length ? closed[0] : undefined);
  if (barred !== undefined)
    return {
      useCase: '',
      subUses: [],
      why: `“${useCase(barred)?.label ?? barred}” is not for a ${form}. Take it out, or register whoever it is sent for.`,
    };
  const alone = uses.find((code) => ALONE.includes(code));
  if (alone)
    return {
      useCase: alone,
      subUses: [],
      why:
        uses.length === 1
          ? (useCase(alone)?.means ?? '')
          : `“${useCase(alone)?.label ?? alone}” stands by itself; begin another campaign for the rest.`,
    };
  // What this form may not have is covered by a mixed one that does not name it.
  const named = uses.filter((code) => !closed.includes(code));
  if (numbers > 49 && named.length > 0)
    return {
      useCase: 'number-pool',
      subUses: [],
      why: `${numbers} numbers are more than the 49 any other campaign takes.`,
    };
  const [only] = named;
  if (uses.length === 1 && only !== undefined)
    return few && useCase(only)?.promotional
      ? {
          useCase: 'low-volume-mixed',
          subUses: [],
          why: 'For so few texts it costs least, and leaves room for other uses; it sends at most 2,000 segments a day.',
        }
      : { useCase: only, subUses: [], why: useCase(only)?.means ?? '' };
  if (few)
    return {
      useCase: 'low-volume-mixed',
      subUses: [],
      why: 'It covers several uses for at most 2,000 segments a day, and costs least.',
    };
  if (named.length > MOST)
    return {
      useCase: '',
      subUses: [],
      why: `A mixed campaign names at most ${MOST} uses; these are ${named.length}. Begin two campaigns.`,
    };
  return named.length >= 2
    ? { useCase: 'mixed', subUses: named, why: 'It covers the uses it names, all at once.' }
    : { useCase: named[0] ?? '', subUses: [], why: useCase(named[0] ?? '')?.means ?? '' };
}
