import { WALK_PLACE_WORDS, type SettingsValues, type WalkStep, type WalkView } from '@crosspeen/contract';
import { fromKm, isoFromDay, LOOK_PLACES } from '@crosspeen/core';
import type { Readable } from 'node:stream';
import { finished, heldBy, INK, INNER, newSheet, PAGE, roomFor, RULE, SOFT, type Sheet } from './page.ts';

const FOOT =
  'A sheet to look by, made from what is known of this engine and this vehicle; limits are this workshop’s library’s, ' +
  'made up in the demo. The maker’s current procedure, local rules and licensed practice come first.';

type Formats = Pick<SettingsValues, 'numberFormat' | 'dateFormat' | 'workshopName'>;

/** A box to tick, on the line of the text that follows. */
function box(sheet: Sheet, x: number, y: number, side = 9): void {
  sheet.rect(x, y, side, side).lineWidth(0.9).stroke(INK);
}

/** What each result looks like, each with its box; or the grades, best first. */
function results(sheet: Sheet, step: WalkStep): void {
  const words =
    step.grades.length > 0
      ? [...step.grades.map(({ words: of }) => of), 'could not see']
      : step.kind === 'task'
        ? ['Done', 'Could not']
        : [
            `Good${step.good ? `: ${step.good}` : ''}`,
            `Worn${step.worn ? `: ${step.worn}` : ''}`,
            `Failed${step.failed ? `: ${step.failed}` : ''}`,
            'Not checked',
          ];
  const gap = 8;
  const wide = (INNER - 22 - gap * (words.length - 1)) / words.length;
  sheet.font('text').fontSize(9);
  const high = Math.max(...words.map((of) => sheet.heightOfString(of, { width: wide - 14 })));
  const y = sheet.y + 3;
  words.forEach((of, i) => {
    const x = PAGE.margin + 22 + i * (wide + gap);
    box(sheet, x, y + 1);
    sheet.fillColor(INK).text(of, x + 14, y, { width: wide - 14 });
  });
  sheet.x = PAGE.margin;
  sheet.y = y + high + 3;
}

function written(sheet: Sheet, step: WalkStep, at: number, number: (value: number) => string): void {
  const left = PAGE.margin + 22;
  const wide = INNER - 22;
  roomFor(sheet, 92);
  const y = sheet.y;
  sheet.font('head').fontSize(13).fillColor(INK).text(String(at), PAGE.margin, y, { width: 18 });
  sheet
    .font('strong')
    .fontSize(11)
    .text(step.title, left, y, { width: wide - 110 });
  const below = sheet.y;
  const aside = [step.method && step.method.charAt(0).toUpperCase() + step.method.slice(1), `${step.minutes} min`];
  sheet
    .font('text')
    .fontSize(9.5)
    .fillColor(SOFT)
    .text(aside.filter(Boolean).join(' · '), PAGE.width - PAGE.margin - 110, y, { width: 110, align: 'right' });
  sheet.y = below;
  sheet.font('text').fontSize(9.5).fillColor(INK);
  if (step.takesOff.length > 0)
    sheet.text(`First off: ${step.takesOff.join(', ')} (${step.teardownMinutes} min)`, left, sheet.y, { width: wide });
  sheet.text(step.how, left, sheet.y, { width: wide });
  sheet.fillColor(SOFT).text(step.why, left, sheet.y, { width: wide });
  if (step.tools.length > 0) sheet.text(`Takes: ${step.tools.join(', ')}`, left, sheet.y, { width: wide });
  sheet.fillColor(INK);
  for (const caution of step.cautions)
    sheet.font('strong').text(`Take care: ${caution}`, left, sheet.y, { width: wide }).font('text');
  results(sheet, step);
  if (step.measure) {
    const { what, unit, limit, worse } = step.measure;
    sheet
      .font('text')
      .fontSize(9.5)
      .text(
        `${what}: ____________ ${unit}   worn ${worse === 'higher' ? 'from' : 'down to'} ${number(limit)} ${unit}`,
        left,
        sheet.y,
        { width: wide },
      );
  }
  sheet
    .fillColor(SOFT)
    .fontSize(8.5)
    .text('Note', left, sheet.y + 4, { width: 30 });
  sheet
    .moveTo(left + 26, sheet.y - 2)
    .lineTo(PAGE.width - PAGE.margin, sheet.y - 2)
    .lineWidth(0.4)
    .dash(1.5, { space: 2 })
    .stroke(RULE)
    .undash();
  sheet.x = PAGE.margin;
  sheet.y += 9;
}

/** A walk as a designed A4 sheet (PDF, its text selectable) to take to the bay and type in later. */
export async function walkSheetPdf(
  view: WalkView,
  { numberFormat, dateFormat, workshopName }: Formats,
): Promise<Readable> {
  const whole = new Intl.NumberFormat(numberFormat, { maximumFractionDigits: 0 });
  const number = (value: number): string => new Intl.NumberFormat(numberFormat).format(value);
  const day = new Intl.DateTimeFormat(dateFormat, { dateStyle: 'medium', timeZone: 'UTC' });
  const name = view.vehicle?.plate ?? view.vehicle?.name ?? view.engine.code;
  const sheet = await newSheet(`Walk: ${name}`);
  sheet.font('head').fontSize(26).text(`Walk  ${name}`);
  sheet
    .font('text')
    .fontSize(11)
    .text(
      `${view.engine.maker} ${view.vehicle?.model ?? ''} ${view.engine.code} ${view.engine.name}`.replace(/\s+/g, ' '),
    )
    .fillColor(SOFT)
    .text(
      [
        `about ${whole.format(fromKm(view.now.km, view.odometerUnit))} ${view.odometerUnit}`,
        day.format(new Date(`${isoFromDay(view.today)}T00:00:00Z`)),
        `${view.steps.length === 1 ? '1 item' : `${view.steps.length} items`}, about ${Math.round(view.minutes)} min`,
        workshopName,
      ].join('   ·   '),
    )
    .fillColor(INK);
  heldBy(sheet, view.holds);
  if (view.vehicle === null) sheet.text('History not known: everything is taken as nobody can show it.');
  sheet.moveDown(0.4).text('By ______________________      Reading ______________', { lineGap: 2 });
  let at = 0;
  for (const place of LOOK_PLACES) {
    const here = view.steps.filter((step) => step.place === place);
    if (here.length === 0) continue;
    roomFor(sheet, 130);
    sheet.moveDown(0.5);
    sheet.font('head').fontSize(16).fillColor(INK).text(WALK_PLACE_WORDS[place], PAGE.margin, sheet.y);
    sheet
      .moveTo(PAGE.margin, sheet.y)
      .lineTo(PAGE.width - PAGE.margin, sheet.y)
      .lineWidth(1)
      .stroke(INK);
    sheet.y += 6;
    for (const step of here) {
      at += 1;
      written(sheet, step, at, number);
    }
  }
  if (view.forbidden.length > 0) {
    roomFor(sheet, 40);
    sheet
      .font('strong')
      .fontSize(9)
      .fillColor(INK)
      .text(
        `Left out until the cause of the complaint is found: ${view.forbidden.map(({ title, needs }) => `${title} (${needs})`).join('; ')}.`,
        PAGE.margin,
        sheet.y + 6,
        { width: INNER },
      );
  }
  if (view.leftOut.length > 0) {
    roomFor(sheet, 40);
    sheet
      .font('text')
      .fontSize(9)
      .fillColor(SOFT)
      .text(`Left out for time: ${view.leftOut.map(({ title }) => title).join('; ')}.`, PAGE.margin, sheet.y + 6, {
        width: INNER,
      });
  }
  return finished(sheet, FOOT);
}
