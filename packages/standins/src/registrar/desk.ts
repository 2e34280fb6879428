import type Router from '@koa/router';
import { FILING_STAGES, type FILINGS } from '@long-gate/gateways';
import type { z } from 'zod';
import { MINUTE, type Outside } from '../outside/outside.js';

type What = (typeof FILINGS)[number];

/** Where filings are handed in: each is taken once, goes through its stages, and is decided on some time later. */
export class Desk {
  constructor(
    private readonly router: Router,
    readonly outside: Outside,
  ) {}

  /** A moment between so long and so long from now, the same for the same filing. */
  wait(kind: string, key: string, from: number, to: number): number {
    return this.outside.now() + from + this.outside.chance(kind, key) * (to - from);
  }

  /** Takes what is handed in at an address once by its key, and has it fall due as `kind` between so long and so long. */
  accept<B extends { key: string }>(
    path: string,
    schema: z.ZodType<B>,
    kind: string,
    [from, to]: readonly [from: number, to: number],
    stagesOf?: What,
  ): void {
    const { store } = this.outside;
    this.router.post(path, async (ctx) => {
      const body = schema.parse(ctx.request.body);
      await store.write(async () => {
        const now = this.outside.now();
        if (!(await store.remember(body.key, kind, now, body))) return;
        const at = this.wait(kind, body.key, from, to);
        if (stagesOf) await this.scheduleStages(stagesOf, body.key, now, at);
        await store.schedule(at, kind, body);
      });
      ctx.body = { accepted: true };
    });
  }

  /** Received at once, by a machine within minutes, by a person after half the time, by the networks near the end. */
  private async scheduleStages(what: What, key: string, now: number, at: number): Promise<void> {
    const moments = [0, Math.min(20 * MINUTE, (at - now) / 10), (at - now) / 2, ((at - now) * 9) / 10];
    for (const [i, stage] of FILING_STAGES.entries())
      await this.outside.store.schedule(now + (moments[i] ?? 0), 'stage', { key, what, stage });
  }
}
