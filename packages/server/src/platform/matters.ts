import type { Matter } from '@long-gate/contracts';

/** Something a search over everything finds: what it is, and where it leads. */
export interface Found {
  kind: 'number' | 'sender ID' | 'port' | 'hosted' | 'contact' | 'campaign' | 'dispatch' | 'opt-in page' | 'keyword';
  title: string;
  detail: string;
  link: string;
}

/** Answers what is open, due or wrong in one area of a business. */
export type Teller = (businessId: string) => Promise<Matter[]>;
/** Finds things of an area by words. */
export type Finder = (businessId: string, words: string) => Promise<Found[]>;

/** Each area tells its own matters and finds its own things; Today only gathers them. */
export class Matters {
  private readonly tellers: Teller[] = [];
  private readonly finders: Finder[] = [];

  tell(teller: Teller): void {
    this.tellers.push(teller);
  }

  find(finder: Finder): void {
    this.finders.push(finder);
  }

  async all(businessId: string): Promise<Matter[]> {
    return (await Promise.all(this.tellers.map((tell) => tell(businessId)))).flat();
  }

  async found(businessId: string, words: string): Promise<Found[]> {
    return (await Promise.all(this.finders.map((find) => find(businessId, words)))).flat();
  }
}

/** Makes matters of one area; what is not said is one thing, by no time, in no group. */
export function mattersOf(area: string) {
  return (
    weight: Matter['weight'],
    title: string,
    detail: string,
    link: string,
    more: Partial<Pick<Matter, 'count' | 'due' | 'since' | 'group'>> = {},
  ): Matter => ({ area, weight, title, detail, link, count: 1, due: null, since: null, group: '', ...more });
}
