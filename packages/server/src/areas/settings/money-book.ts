import type { MoneyEntry, Outlook } from '@long-gate/contracts';
import { formatAmount, formatCents, formatShown, moneyOutlook } from '@long-gate/core';
import { DateTime } from 'luxon';
import PDFDocument from 'pdfkit';
import { record, type Actor } from '../../platform/audit.js';
import { csv, plainAmount } from '../../platform/csv.js';
import type { Platform } from '../../platform/platform.js';
import { refused } from '../../platform/problem.js';
import { saveBusiness } from './business-store.js';
import type { Businesses } from './businesses.js';
import type { StandingFees } from './standing-fees.js';
import { balanceBefore, bookedAfter, entriesBetween, pageOfEntries, spentSince } from './money-store.js';

const LOOK_BACK_DAYS = 30;
const DAY_MS = 86_400_000;

/** What is read of a business's money: entries, where the balance is heading, statements by month. */
export class MoneyBook {
  constructor(
    private readonly p: Platform,
    private readonly businesses: Businesses,
    private readonly fees: StandingFees,
  ) {}

  async page(
    businessId: string,
    q: { cursor?: string | undefined; limit: number },
  ): Promise<{ items: MoneyEntry[]; next: string | null; total: number }> {
    const { rows, next, total } = await pageOfEntries(this.p.db, businessId, q.cursor, q.limit);
    const [first] = rows;
    const { balance } = await this.businesses.row(this.p.db, businessId);
    let after = balance - (first ? await bookedAfter(this.p.db, businessId, first) : 0);
    const items = rows.map(({ id, at, amount, what, objectKind, objectId }) => {
      const entry = { id, at, amount, what, objectKind, objectId, balanceAfter: after };
      after -= amount;
      return entry;
    });
    return { items, next, total };
  }

  /** Days left at the current pace, and next month's cost by kind. */
  async outlook(businessId: string): Promise<Outlook> {
    const b = await this.businesses.row(this.p.db, businessId);
    const now = this.p.clock.now();
    // A young account is looked at over the days it has.
    const days = Math.max(1, Math.min(LOOK_BACK_DAYS, (now - b.created_at) / DAY_MS));
    const use = await spentSince(this.p.db, businessId, now - days * DAY_MS);
    const fees = await this.fees.toCome(this.p.db, businessId);
    const o = moneyOutlook(b.balance, await this.fees.running(this.p.db, businessId), use, days, { fees, now });
    return { ...o, balance: b.balance, autoBelow: b.auto_below, autoAmount: b.auto_amount };
  }

  /** Tops up by itself when the balance falls below a limit; 0 for never. */
  async setAuto(actor: Actor, businessId: string, below: number, amount: number): Promise<void> {
    if (below > 0 && amount < below)
      throw refused('A top-up has to bring the balance above the limit again: make it at least as large.', [
        { field: 'amount', message: 'At least as large as the limit.' },
      ]);
    await this.p.db.write(async (w) => {
      const before = await this.businesses.row(w, businessId);
      await saveBusiness(w, businessId, { autoBelow: below, autoAmount: below > 0 ? amount : 0 });
      await record(w, this.p.clock, {
        businessId,
        actor,
        action: below > 0 ? 'automatic top-up set' : 'automatic top-up ended',
        objectKind: 'business',
        objectId: businessId,
        before: { below: formatAmount(before.auto_below), amount: formatAmount(before.auto_amount) },
        after: { below: formatAmount(below), amount: formatAmount(below > 0 ? amount : 0) },
      });
      await this.businesses.topUpByItself(w, businessId);
      w.afterCommit(() => this.p.live.tell({ businessId, topic: 'settings' }));
    });
  }

  private async month(businessId: string, month: string) {
    const b = await this.businesses.row(this.p.db, businessId);
    const from = DateTime.fromISO(`${month}-01`, { zone: b.time_zone });
    const to = from.plus({ months: 1 });
    const rows = await entriesBetween(this.p.db, businessId, from.toMillis(), to.toMillis());
    const opening = await balanceBefore(this.p.db, businessId, from.toMillis());
    const moved = rows.reduce((sum, r) => sum + r.amount, 0);
    const time = (at: number): string =>
      DateTime.fromMillis(at, { zone: b.time_zone }).toFormat('d LLL yyyy, HH:mm', { locale: 'en-US' });
    return { business: b, from, rows, opening, closing: opening + moved, time };
  }

  /** One month as CSV; texts that look like formulas are made harmless. */
  async csv(businessId: string, month: string): Promise<string> {
    const m = await this.month(businessId, month);
    let running = m.opening;
    return csv(
      ['when', 'what', 'amount', 'balance', 'caused by', 'id'],
      [
        [m.time(m.from.toMillis()), 'opening balance', '', plainAmount(m.opening), '', ''],
        ...m.rows.map((r) => [
          m.time(r.at),
          r.what,
          plainAmount(r.amount),
          plainAmount((running += r.amount)),
          `${r.objectKind} ${r.objectId}`.trim(),
          r.id,
        ]),
        ['', 'closing balance', '', plainAmount(m.closing), '', ''],
      ],
    );
  }

  /** One month as a PDF (A4). */
  async pdf(businessId: string, month: string): Promise<Buffer> {
    const m = await this.month(businessId, month);
    const doc = new PDFDocument({ size: 'A4', margin: 56, bufferPages: true, info: { Title: `Statement ${month}` } });
    const pieces: Buffer[] = [];
    doc.on('data', (piece: Buffer) => pieces.push(piece));
    const done = new Promise<Buffer>((resolve) => doc.on('end', () => resolve(Buffer.concat(pieces))));
    const columns = [56, 170, 400, 480] as const;
    const line = (cells: readonly string[], bold = false): void => {
      if (doc.y > 760) doc.addPage();
      const y = doc.y;
      doc.font(bold ? 'Helvetica-Bold' : 'Helvetica').fontSize(9);
      cells.forEach((text, i) =>
        doc.text(text, columns[i] ?? 56, y, {
          width: i === 1 ? 222 : i > 1 ? 64 : 110,
          align: i > 1 ? 'right' : 'left',
          lineBreak: i === 1,
        }),
      );
      doc.y = Math.max(doc.y, y + 14);
    };
    doc
      .font('Helvetica-Bold')
      .fontSize(16)
      .text(`Statement ${m.from.toFormat('LLLL yyyy', { locale: 'en-US' })}`);
    doc.font('Helvetica').fontSize(10).text(m.business.legal_name).text('Amounts in US dollars, prepaid.').moveDown();
    line(['When', 'What', 'Amount', 'Balance'], true);
    line(['', 'Opening balance', '', formatCents(m.opening)]);
    let running = m.opening;
    for (const r of m.rows)
      line([m.time(r.at), r.what, formatShown(r.amount).replace('−', '-'), formatCents((running += r.amount))]);
    line(['', 'Closing balance', '', formatCents(m.closing)], true);
    doc.end();
    return done;
  }
}
