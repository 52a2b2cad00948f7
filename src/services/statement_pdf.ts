import { join } from 'node:path';
import PDFDocument from 'pdfkit';
import { money } from '@/core/money/money';
import { showAmount, showExchangeRate } from '@/core/money/text';
import { day, dayOf, showDay } from '@/core/time/days';
import { LINE_WORDS, type Statement } from './statements';

const FONTS = join(process.cwd(), 'node_modules/@expo-google-fonts/figtree');
const INK = '#15211C';
const MUTE = '#5C6B64';
const SPRUCE = '#1B5949';
const LEFT = 56;
const RIGHT = 539;
const BOTTOM = 770;
const COLUMNS = [
  { x: LEFT, width: 58 },
  { x: 118, width: 150 },
  { x: 272, width: 98 },
  { x: 374, width: 90 },
  { x: 468, width: RIGHT - 468 },
] as const;

/** A statement as an A4 PDF: who pays whom, how much, and each line behind it. */
export function statementPdf(statement: Statement): Promise<Buffer> {
  const { program, partner, run, item, lines } = statement;
  const doc = new PDFDocument({
    size: 'A4',
    margin: LEFT,
    info: { Title: `Statement ${run.number}-${partner.code}`, Author: program.name },
  });
  const chunks: Buffer[] = [];
  const done = new Promise<Buffer>((resolve, reject) => {
    doc.on('data', (chunk: Buffer) => chunks.push(chunk));
    doc.on('end', () => resolve(Buffer.concat(chunks)));
    doc.on('error', reject);
  });
  doc.registerFont('text', join(FONTS, '400Regular/Figtree_400Regular.ttf'));
  doc.registerFont('bold', join(FONTS, '600SemiBold/Figtree_600SemiBold.ttf'));

  doc.font('bold').fontSize(20).fillColor(SPRUCE).text('Statement', LEFT, LEFT);
  doc
    .font('text')
    .fontSize(10)
    .fillColor(MUTE)
    .text(`${run.number}-${partner.code} · commissions approved up to ${showDay(day(run.cutOff))}`);
  doc
    .moveDown(1.2)
    .fillColor(INK)
    .font('bold')
    .text(program.name)
    .font('text')
    .text(`Partner program, ${program.country}`);
  doc
    .moveDown(0.8)
    .fillColor(MUTE)
    .text('pays')
    .fillColor(INK)
    .font('bold')
    .text(partner.name)
    .font('text')
    .text(`${partner.email}, ${partner.country}`);
  if (item.detailsMask) doc.fillColor(MUTE).text(`to ${item.detailsMask}`);
  doc
    .moveDown(1)
    .font('bold')
    .fontSize(26)
    .fillColor(INK)
    .text(showAmount(money(item.payoutAmount ?? 0, item.payoutCurrency)));
  doc.font('text').fontSize(10).fillColor(MUTE);
  if (item.rate !== null && item.rateDay)
    doc.text(
      `${showAmount(money(item.amount, item.currency))} at ${showExchangeRate(item.rate)} of ${showDay(day(item.rateDay))}`,
    );
  const paid = run.settledAt === null ? 'Not paid yet' : `Paid on ${showDay(dayOf(run.settledAt, program.timeZone))}`;
  doc.text(item.state === 'returned' ? `Payment returned: ${item.returnReason}` : paid);

  doc.moveDown(1.5).fontSize(9);
  let y = doc.y;
  const row = (cells: readonly string[], font: 'text' | 'bold', colour: string): void => {
    const [first = '', what = '', offer = '', order = '', amount = ''] = cells;
    const height = Math.max(
      ...[first, what, offer, order].map((text, i) =>
        doc.font(font).heightOfString(text, { width: COLUMNS[i]?.width ?? 80 }),
      ),
    );
    if (y + height > BOTTOM) {
      doc.addPage();
      y = LEFT;
    }
    doc.font(font).fillColor(colour);
    [first, what, offer, order].forEach((text, i) =>
      doc.text(text, COLUMNS[i]?.x ?? LEFT, y, { width: COLUMNS[i]?.width }),
    );
    doc.text(amount, COLUMNS[4].x, y, { width: COLUMNS[4].width, align: 'right' });
    y += height + 4;
  };
  const rule = (): void => {
    doc
      .moveTo(LEFT, y - 1)
      .lineTo(RIGHT, y - 1)
      .lineWidth(0.5)
      .strokeColor('#C4CFC9')
      .stroke();
    y += 3;
  };
  row(['Day', 'What', 'Offer', 'Order', `Amount (${item.currency})`], 'text', MUTE);
  rule();
  for (const line of lines) {
    const what = [LINE_WORDS[line.kind] ?? line.kind, line.event, line.kind === 'approved' ? '' : line.reason]
      .filter(Boolean)
      .join(' · ');
    const on = line.day ? showDay(day(line.day)) : showDay(dayOf(line.time, program.timeZone));
    row(
      [on, what, line.offerName ?? '', line.orderRef ?? '', showAmount(money(line.amount, item.currency))],
      'text',
      INK,
    );
  }
  rule();
  row(['', '', '', 'Total', showAmount(money(item.amount, item.currency))], 'bold', INK);
  doc.end();
  return done;
}
