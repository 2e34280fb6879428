import type { Reader } from '../../platform/db.js';
import type { BusinessRow } from './businesses.js';

export async function businessesOf(r: Reader, userId: string): Promise<BusinessRow[]> {
  return r.all<BusinessRow>(
    'SELECT b.* FROM business b JOIN membership m ON m.business_id = b.id WHERE m.user_id = $1 ORDER BY b.created_at, b.id',
    [userId],
  );
}

export async function isBooked(r: Reader, entryId: string): Promise<boolean> {
  return (await r.one('SELECT id FROM money_entry WHERE id = $1', [entryId])) !== undefined;
}
