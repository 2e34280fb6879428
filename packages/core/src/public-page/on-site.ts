/** Where a page's form stands on the business's own site: in the page, or above it as a sheet that can be closed. */
export const SITE_PLACES = ['in the page', 'above it'] as const;
export type SitePlace = (typeof SITE_PLACES)[number];
export const SITE_DEVICES = ['all', 'phones', 'desks'] as const;
export type SiteDevice = (typeof SITE_DEVICES)[number];
