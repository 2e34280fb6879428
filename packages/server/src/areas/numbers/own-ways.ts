import type { OwnWay } from '@long-gate/contracts';
import type { Platform } from '../../platform/platform.js';
import type { Hosted } from './hosted/index.js';
import { byAddress } from './number-store.js';
import type { PortDesk } from './porting/index.js';

/** What a number that somebody asks about is here already: in the inventory, on its way, or being text-enabled. */
export class OwnWays {
  constructor(
    private readonly p: Platform,
    private readonly ports: PortDesk,
    private readonly hosted: Hosted,
  ) {}

  /** Null where it is nothing of this business. */
  async of(businessId: string, e164: string): Promise<OwnWay | null> {
    const owned = await byAddress(this.p.db, e164);
    if (owned?.business_id === businessId) return { is: 'in the inventory', link: `numbers?open=${owned.id}` };
    const [port] = await this.ports.find(businessId, e164, e164, 1);
    if (port && !['done', 'cancelled', 'returned'].includes(port.state))
      return { is: 'being ported in', link: `numbers/ports/${port.id}` };
    const [hosting] = await this.hosted.find(businessId, e164, e164, 1);
    if (hosting && ['draft', 'submitted', 'refused'].includes(hosting.state))
      return { is: 'being text-enabled', link: `numbers/hosted?open=${hosting.id}` };
    return null;
  }
}
