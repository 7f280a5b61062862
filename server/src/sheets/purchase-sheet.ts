import { WALK_PLACE_WORDS, type PurchaseView, type SettingsValues } from '@crosspeen/contract';
import { fromKm, isoFromDay } from '@crosspeen/core';
import type { Readable } from 'node:stream';
import {
  finished,
  heading as part,
  heldBy,
  INK,
  INNER,
  newSheet,
  PAGE,
  roomFor,
  RULE,
  SOFT,
  type Sheet,
} from './page.ts';

const FOOT =
  'Made from what is known of this engine at this reading; nothing is known of this vehicle’s history. Chances and ' +
  'costs are estimates, before tax; prices and minutes of the demo are made up. A look is no guarantee.';

type Formats = Pick<SettingsValues, 'numberFormat' | 'dateFormat' | 'workshopName' | 'currency'>;

/** A part of the sheet; all of it is to fit on one page, so that its text is small. */
function heading(sheet: Sheet, words: string): void {
  part(sheet, words);
  sheet.fontSize(9);
}

/** Text on the left, an amount on the right of the same line. */
function line(sheet: Sheet, words: string, amount: string): void {
  const wide = { width: INNER - 120 };
  // All of its words on one page: the amount goes beside the first.
  roomFor(sheet, Math.max(18, sheet.heightOfString(words, wide)));
  const y = sheet.y;
  sheet.text(words, PAGE.margin, y, wide);
  const below = sheet.y;
  // Written after its words, so that it is read and copied after them.
  sheet.text(amount, PAGE.width - PAGE.margin - 110, y, { width: 110, align: 'right' });
  sheet.x = PAGE.margin;
  sheet.y = Math.max(sheet.y, below);
}

const KIND_WORDS = { renew: 'Renew', look: 'Look', task: 'Upkeep' } as const;

/** Work due in two years, a line each; what recurs is one line for all that is done on one day. */
function jobLines(
  { jobs }: PurchaseView,
  percent: Intl.NumberFormat,
  amount: (minor: number) => string,
): { readonly day: number; readonly words: string; readonly cost: number }[] {
  const days = [...new Set(jobs.map(({ day }) => day))];
  return days.flatMap((day) => {
    const here = jobs.filter((job) => job.day === day);
    const tasks = here.filter(({ kind }) => kind === 'task');
    const points = here
      .filter(({ kind }) => kind !== 'task')
      .map(({ kind, title, money, isPriceTold, ifWorn, chance, safety }) => ({
        day,
        words: [
          `${KIND_WORDS[kind]}: ${title}`,
          chance === null ? '' : `, ${percent.format(chance)} before the next service`,
          safety ? ' (safety)' : '',
          isPriceTold ? '' : ', price of the part not told',
          ifWorn === null
            ? ''
            : `; if it is found worn (${percent.format(ifWorn.chance)}): about ${amount(ifWorn.money)}`,
        ].join(''),
        cost: money,
      }));
    if (tasks.length === 0) return points;
    return [
      ...points,
      {
        day,
        words: `Upkeep: ${tasks.map(({ title }) => title).join(', ')}`,
        cost: tasks.reduce((sum, { money }) => sum + money, 0),
      },
    ];
  });
}

/** Questions in two columns, each with room for what the seller says. */
function asked(sheet: Sheet, questions: PurchaseView['questions']): void {
  const gap = 20;
  const wide = (INNER - gap) / 2;
  for (let at = 0; at < questions.length; at += 2) {
    roomFor(sheet, 34);
    const top = sheet.y;
    let end = top;
    questions.slice(at, at + 2).forEach(({ ask, proof }, column) => {
      const x = PAGE.margin + column * (wide + gap);
      sheet.text(`${ask}${proof ? ' Show me the invoice.' : ''}`, x, top, { width: wide });
      const y = sheet.y + 14;
      sheet
        .moveTo(x, y)
        .lineTo(x + wide, y)
        .lineWidth(0.5)
        .stroke(RULE);
      end = Math.max(end, y + 4);
    });
    sheet.y = end;
  }
  sheet.x = PAGE.margin;
}

/** What somebody should know before he buys a vehicle, as an A4 sheet (PDF). */
export async function purchaseSheetPdf(view: PurchaseView, settings: Formats): Promise<Readable> {
  const { numberFormat, dateFormat, currency, workshopName } = settings;
  const percent = new Intl.NumberFormat(numberFormat, { style: 'percent', maximumSignificantDigits: 2 });
  const whole = new Intl.NumberFormat(numberFormat, { maximumFractionDigits: 0 });
  const amount = new Intl.NumberFormat(numberFormat, { style: 'currency', currency, maximumFractionDigits: 0 });
  const month = new Intl.DateTimeFormat(dateFormat, { month: 'short', year: 'numeric', timeZone: 'UTC' });
  const money = (minor: number): string => amount.format(minor / 100);
  const monthOf = (day: number): string => month.format(new Date(`${isoFromDay(day)}T00:00:00Z`));
  const { engine, now, odometerUnit, total, years, price } = view;
  const sheet = await newSheet(`Before a purchase: ${engine.code}`);
  sheet.font('head').fontSize(26).text(`Before a purchase  ${engine.maker} ${engine.code}`);
  sheet
    .font('text')
    .fontSize(11)
    .fillColor(SOFT)
    .text(
      `${engine.name}   ·   ${whole.format(fromKm(now.km, odometerUnit))} ${odometerUnit}   ·   history not known   ·   ${workshopName}`,
    )
    .fillColor(INK);
  heldBy(sheet, view.holds);
  heading(sheet, 'What the first two years cost');
  years.forEach(({ visits, failures }, i) => {
    line(
      sheet,
      `Year ${i + 1}: visits and parts ${money(visits)}, failures expected beside them ${money(failures)}`,
      money(visits + failures),
    );
  });
  sheet.font('strong');
  line(sheet, 'Together', money(total.visits + total.failures));
  sheet.font('text');
  if (total.high > total.low)
    line(sheet, 'In nine cases of ten between', `${money(total.low)} and ${money(total.high)}`);
  else line(sheet, 'In nine cases of ten nothing breaks beside the planned work', money(total.low));
  if (price !== null) {
    line(sheet, 'Asked for it', money(price));
    sheet.font('strong');
    line(sheet, 'Price and two years', money(price + total.visits + total.failures));
    sheet.font('text');
  }
  heading(sheet, `Work due in two years, on ${view.visits === 1 ? 'one visit' : `${view.visits} visits`}`);
  for (const { day, words, cost } of jobLines(view, percent, money))
    line(sheet, `${monthOf(day)}   ${words}`, money(cost));
  heading(sheet, 'Look at it before');
  for (const { title, place, how, good, worn, minutes } of view.looks) {
    roomFor(sheet, 40);
    const y = sheet.y;
    sheet
      .rect(PAGE.margin, y + 1, 9, 9)
      .lineWidth(0.9)
      .stroke(INK);
    sheet
      .font('strong')
      .text(`${title} (${WALK_PLACE_WORDS[place]}, ${minutes} min)`, PAGE.margin + 16, y, { width: INNER - 16 });
    const signs = [good && `good: ${good}`, worn && `worn: ${worn}`].filter(Boolean).join('; ');
    sheet.font('text').text(`${how}${signs ? `  ${signs}` : ''}`, PAGE.margin + 16, sheet.y, { width: INNER - 16 });
    sheet.x = PAGE.margin;
  }
  // What holds for several looks is said once.
  const cautions = [...new Set(view.looks.flatMap((look) => look.cautions))];
  if (cautions.length > 0)
    sheet
      .font('strong')
      .text(`Take care: ${cautions.join(' ')}`, PAGE.margin, sheet.y + 2, { width: INNER })
      .font('text');
  if (view.questions.length > 0) {
    heading(sheet, 'Ask the seller');
    asked(sheet, view.questions);
  }
  return finished(sheet, FOOT);
}
