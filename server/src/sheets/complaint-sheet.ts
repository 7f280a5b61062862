import type { SettingsValues, WireTriage } from '@crosspeen/contract';
import { leftOutWords, needsWords, searchOn } from '@crosspeen/core';
import type { Readable } from 'node:stream';
import { finished, heading, INK, INNER, newSheet, PAGE, roomFor, SOFT } from './page.ts';

const FOOT =
  'Made from what is known of this engine and this vehicle, and from what was checked. A search is no repair: the ' +
  'maker’s current procedure, local rules and licensed practice come first.';

/** Explanations that a sheet lists. */
const SHOWN = 8;

/** What is reported of a vehicle, what was checked, and what explains it, as an A4 sheet (PDF). */
export async function complaintSheetPdf(
  { name, engine }: { readonly name: string; readonly engine: string },
  asked: WireTriage,
  { numberFormat, dateFormat, workshopName }: Pick<SettingsValues, 'numberFormat' | 'dateFormat' | 'workshopName'>,
): Promise<Readable> {
  const percent = new Intl.NumberFormat(numberFormat, { style: 'percent', maximumSignificantDigits: 2 });
  const day = new Intl.DateTimeFormat(dateFormat, { dateStyle: 'medium', timeZone: 'UTC' });
  const dayOf = (iso: string): string => day.format(new Date(`${iso}T00:00:00Z`));
  const { explanations, next, standing, leftOut } = searchOn(asked);
  const byAbout = new Map(asked.checks.map((check) => [check.about, check]));
  const sheet = await newSheet(`Complaint: ${name}`);
  sheet.font('head').fontSize(26).text(`Complaint  ${name}`);
  sheet.font('text').fontSize(11).fillColor(SOFT).text(`${engine}   ·   ${workshopName}`).fillColor(INK);
  for (const { words, stop, drive } of asked.reports) {
    if (drive !== null) sheet.moveDown(0.4).text(`${words}. May it be driven? ${drive}`, { width: INNER });
    if (stop !== null) sheet.moveDown(0.4).font('strong').fontSize(12).text(`${words}: ${stop}`).font('text');
  }
  heading(sheet, 'What is reported');
  for (const { words, condition, day: on, by, goodDay } of asked.reports)
    sheet.text(
      [
        condition === null ? words : `${words}, ${condition}`,
        `${dayOf(on)}, ${by}`,
        goodDay === null ? null : `good on ${dayOf(goodDay)}`,
      ]
        .filter(Boolean)
        .join('   ·   '),
      { width: INNER },
    );
  if (asked.answers.length > 0) {
    heading(sheet, 'What was checked');
    for (const { words, said, by } of asked.answers)
      sheet.text(`${words}: ${said ? 'yes' : 'no'}   ·   ${by}`, { width: INNER });
  }
  heading(sheet, 'What explains it on this vehicle');
  for (const { title, chance } of explanations.slice(0, SHOWN)) {
    const y = sheet.y;
    sheet.text(percent.format(chance), PAGE.margin, y, { width: 60, align: 'right' });
    sheet.text(title, PAGE.margin + 72, y, { width: INNER - 72 });
  }
  if (standing.stands !== 'known' && next.length > 0) {
    heading(sheet, 'What to check next');
    for (const { about, minutes, yes, no } of next) {
      const check = byAbout.get(about)!;
      roomFor(sheet, 46);
      sheet.font('strong').text(`${check.words} (${Math.round(minutes)} min)`, PAGE.margin, sheet.y, { width: INNER });
      sheet
        .font('text')
        .fillColor(SOFT)
        .text(`Yes: ${yes.title} ${percent.format(yes.chance)}.   No: ${no.title} ${percent.format(no.chance)}.`, {
          width: INNER,
        })
        .fillColor(INK);
      const needs = needsWords(check.needs);
      if (needs !== '') sheet.text(`Needs: ${needs}`, { width: INNER });
      for (const caution of check.cautions) sheet.text(`Take care: ${caution}`, { width: INNER });
      sheet.moveDown(0.3);
    }
  }
  if (leftOut.length > 0) sheet.moveDown(0.4).font('strong').text(leftOutWords(leftOut), { width: INNER }).font('text');
  return finished(sheet, FOOT);
}
