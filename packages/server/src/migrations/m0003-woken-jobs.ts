/** A job woken while it runs comes back at once instead of at the moment it had in mind. */
export const WOKEN_JOBS: readonly string[] = [`ALTER TABLE job ADD COLUMN woken INTEGER NOT NULL DEFAULT 0`];
