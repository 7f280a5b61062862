import type { Answer, AnswerRow } from '@crosspeen/contract';
import { chanceWords, type DistanceUnit } from '@crosspeen/core';
import { dayText, spansText } from '../../ui/units.ts';

/** What the chance rests on, in plain sentences. */
export function restsOn(row: AnswerRow, answer: Answer, unit: DistanceUnit): string[] {
  const install = row.installs[0]!;
  const lines = [`${chanceWords(row.share)} of these engines have it in them${row.shareLeft < 0.97 ? `; that this one has come so far leaves ${chanceWords(row.share * row.shareLeft)}` : ''}.`];
  row.causes.forEach((cause) => lines.push(`Those that fail mostly do so at ${spansText(cause, unit)}${cause.length > 1 ? ', whichever counts first' : ''}.`));
  switch (install.certainty) {
    case 'done': lines.push(`Renewed on ${dayText(install.day)}; the clock counts from there.`); break;
    case 'believed': lines.push(`Believed renewed about ${dayText(install.day)} and taken at ${Math.round(install.weight * 100)} in 100; else as if nobody knew.`); break;
    case 'not_done': lines.push('Known never to have been renewed: the original part.'); break;
    case 'unknown': case 'assumed': lines.push(`Nobody knows whether it was renewed: ${Math.round(row.originalChance * 100)} in 100 that it is the original part.`); break;
  }
  if (answer.severity !== 1) lines.push(`Distance counts x${answer.severity}: the use is ${answer.severity > 1 ? 'harder' : 'easier'} than usual.`);
  if (answer.usage.startAssumed) lines.push('The year is not known: age is reckoned from the reading and the usual use.');
  const last = row.looks.at(-1);
  if (last) lines.push(`Last looked at on ${dayText(last.day)}: ${last.worn ? 'worn' : 'sound'}${row.looks.length > 1 ? `, ${row.looks.length} looks in all` : ''}.`);
  if (row.settle !== null) lines.push(`It applies to ${Math.round(row.appliesWeight * 10)} in 10 of the engines that fit. To settle it: ${row.settle}.`);
  return lines;
}
