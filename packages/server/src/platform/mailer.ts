import { createTransport } from 'nodemailer';
import { GatewayRefused, type Gateways } from '@long-gate/gateways';
import type { Writer } from './db.js';
import type { Clock } from './clock.js';
import { z } from 'zod';
import type { Outbox } from './outbox.js';
import type { Vault } from './vault.js';

export interface Letter {
  to: string;
  subject: string;
  /** Plain text; links stand on lines of their own. */
  text: string;
  /** Of a letter to many: where one POST ends them (RFC 8058). */
  unsubscribe?: string;
}

/** Who says of a message, by its key and as it leaves, whether it still may; and hears of one that was held back. */
export interface Judge {
  /** Why it must not; empty where it may. */
  not(key: string): Promise<string>;
  heldBack(w: Writer, key: string, why: string): Promise<void>;
}

/** A try whose answer was lost may have been heard all the same. */
const TRIED = 'It was tried before without success; where only the answer to that was lost, it left then.';

/** A message that waited to leave and must not any more. */
class HeldBack extends GatewayRefused {
  constructor(why: string) {
    super(why, 'held back');
  }
}

/** Writes e-mail (RFC 5322) and hands it to the mail service by the outbox. What waits there is sealed: it holds secret links. */
export class Mailer {
  private readonly compose = createTransport({ streamTransport: true, buffer: true, newline: 'windows' });

  constructor(
    outbox: Outbox,
    gateways: Gateways,
    private readonly vault: Vault,
    private readonly clock: Clock,
    private readonly from: string,
    /** Where people reach this application. */
    private readonly address: string,
  ) {
    this.outbox = outbox;
    outbox.carry('mail', z.object({ sealed: z.string() }), {
      deliver: async (key, { sealed }, tries) => {
        // It may have waited for hours, and whom it is for may have said no meanwhile.
        const why = (await this.judge?.not(key)) ?? '';
        if (why !== '') throw new HeldBack(tries === 0 ? why : `${why} ${TRIED}`);
        const { to, raw } = JSON.parse(vault.unseal(sealed)) as { to: string; raw: string };
        await gateways.mail.send(key, to, raw);
      },
      // Once it is with the mail service, nothing of it is kept here.
      delivered: (w, key) => outbox.forget(w, key),
      refused: async (w, key, _, error) => {
        await outbox.forget(w, key);
        if (error instanceof HeldBack) await this.judge?.heldBack(w, key, error.message);
      },
    });
  }
  private judge?: Judge;

  judgedBy(judge: Judge): void {
    this.judge = judge;
  }

  private readonly outbox: Outbox;

  /** An address of this application, such as `/invited/…`, as a link. */
  link(path: string): string {
    return `${this.address}${path}`;
  }

  /** Puts a message on its way, once for a key, in the transaction that decides it. */
  async put(w: Writer, key: string, letter: Letter): Promise<void> {
    const { message } = await this.compose.sendMail({
      from: this.from,
      to: letter.to,
      subject: letter.subject,
      text: `${letter.text}\n\n-- \nLong Gate, messaging compliance\nNobody will ever ask you for a password or a code.\n`,
      date: new Date(this.clock.now()),
      ...(letter.unsubscribe
        ? {
            headers: {
              'List-Unsubscribe': `<${letter.unsubscribe}>`,
              'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click',
            },
          }
        : {}),
    });
    await this.outbox.put(w, 'mail', key, {
      sealed: this.vault.seal(JSON.stringify({ to: letter.to, raw: (message as Buffer).toString('utf8') })),
    });
  }
}
