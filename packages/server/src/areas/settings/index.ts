export { Account } from './account.js';
export { Businesses, showBusiness, type BusinessRow } from './businesses.js';
export { MoneyBook } from './money-book.js';
export {
  Forgotten,
  hashPassword,
  Invitations,
  OwnMobile,
  People,
  peopleRoutes,
  SecondFactor,
  Sessions,
  SignIn,
} from './people/index.js';
export { SetAsideDesk } from './set-aside-desk.js';
export { SavedViews } from './views.js';
export { settingsRoutes } from './routes.js';
