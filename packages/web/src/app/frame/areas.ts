export interface Area {
  path: string;
  label: string;
}

/** The nine areas, in the order of the work; `Alt+1…9`. */
export const AREAS: readonly Area[] = [
  { path: 'today', label: 'Today' },
  { path: 'numbers', label: 'Numbers' },
  { path: 'registration', label: 'Registration' },
  { path: 'contacts', label: 'Contacts' },
  { path: 'consent', label: 'Consent' },
  { path: 'dispatch', label: 'Dispatch' },
  { path: 'watch', label: 'Watch' },
  { path: 'inbox', label: 'Inbox' },
  { path: 'settings', label: 'Settings' },
];
