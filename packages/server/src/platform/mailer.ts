import { createTransport } from 'nodemailer';
import type { Writer } from './db.js';
import type { Clock } from './clock.js';
import type { Gateways } from '@long-gate/gateways';
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
      deliver: async (key, { sealed }) => {
        const { to, raw } = JSON.parse(vault.unseal(sealed)) as { to: string; raw: string };
        await gateways.mail.send(key, to, raw);
      },
      // Once it is with the mail service, nothing of it is kept here.
      delivered: (w, key) => outbox.forget(w, key),
      refused: (w, key) => outbox.forget(w, key),
    });
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
