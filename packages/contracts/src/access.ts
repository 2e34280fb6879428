import { ALL_ENDPOINTS, type Access, type Endpoint } from './endpoint.js';

/** Who may be at the door of an endpoint: nobody signed in, or somebody with a role in the business of the path. */
export const CALLERS = ['nobody', 'viewer', 'coordinator', 'administrator'] as const;
export type Caller = (typeof CALLERS)[number];

export interface AccessRow {
  endpoint: Endpoint;
  /** Whether each may, for a business they have this role in. For every other business nobody may. */
  may: Record<Caller, boolean>;
  /** The same for the wishes at this address that need more. */
  stricter: Record<Caller, boolean> | null;
}

const RANK: Record<Access, number> = { public: 0, 'signed in': 1, viewer: 1, coordinator: 2, administrator: 3 };

const mayFrom = (access: Access): Record<Caller, boolean> => ({
  nobody: RANK[access] === 0,
  viewer: RANK[access] <= 1,
  coordinator: RANK[access] <= 2,
  administrator: true,
});

/** Who may what: one row for each endpoint there is, made from the contracts. */
export function accessTable(): AccessRow[] {
  return ALL_ENDPOINTS.map((endpoint) => ({
    endpoint,
    may: mayFrom(endpoint.access),
    stricter: endpoint.stricter ? mayFrom(endpoint.stricter.access) : null,
  }));
}

/** The table as docs/access.md holds it. */
export function accessDocument(): string {
  const mark = (may: Record<Caller, boolean>): string => CALLERS.map((c) => (may[c] ? 'yes' : '–')).join(' | ');
  const rows = accessTable().flatMap(({ endpoint: e, may, stricter }) => [
    `| ${e.id} | ${e.method} ${e.path.replaceAll(/:(\w+)/g, '{$1}')} | ${mark(may)} |`,
    ...(stricter && e.stricter ? [`| ${e.id} | … to ${e.stricter.to} | ${mark(stricter)} |`] : []),
  ]);
  return [
    '# Who may what',
    '',
    'Made from the contracts by `npm run access`; a spec holds it against them, and another one tries every row at the door, for a business of one’s own and for another’s. Roles count in the business of the path; where the path names none, the highest role somebody has anywhere. Of another business nobody learns more than that there is none.',
    '',
    '| endpoint | address | nobody | viewer | coordinator | administrator |',
    '| --- | --- | --- | --- | --- | --- |',
    ...rows,
    '',
  ].join('\n');
}
