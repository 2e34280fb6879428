export type { SettingsArea } from './area.js';
export { bookedSince, chargesAcross } from './money-store.js';
export type { Businesses, BusinessRow } from './businesses.js';
export { hashPassword, type OwnMobile, type People } from './people/index.js';
export { UNPAID_HOLD_MS, type Fee, type StandingFees } from './standing-fees.js';
