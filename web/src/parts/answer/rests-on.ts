import { FOUND_WORDS, type AnswerRow } from '@crosspeen/contract';
import type { Answer } from '../../api/answer.ts';
import { chanceWords, type DistanceUnit } from '@crosspeen/core';
import { dayText, distanceText, spansText } from '../../ui/units.ts';

const factor = (value: number): string => String(Math.round(value * 100) / 100);

/** What the chance rests on, in plain sentences. */
export function restsOn(row: AnswerRow, answer: Answer, unit: DistanceUnit): string[] {
  const install = row.installs[0]!;
  const windows = row.causes.map(
    (cause) => `${spansText(cause, unit)}${cause.length > 1 ? ', whichever comes first' : ''}`,
  );
  const lines =
    row.nature === 'wear'
      ? windows.map(
          (window) =>
            `It wears: ${chanceWords(row.share)} of these have failed by the end of ${window}; the others fail later.`,
        )
      : [
          `${chanceWords(row.share)} of these engines have this weak point${row.shareLeft < 0.97 ? `; after this distance, still ${chanceWords(row.share * row.shareLeft)}` : ''}.`,
          ...windows.map((window) => `Those that fail mostly do so at ${window}.`),
        ];
  switch (install.certainty) {
    case 'done':
      lines.push(`Renewed on ${dayText(install.day)}; the clock counts from there.`);
      break;
    case 'believed':
      lines.push(`Believed renewed about ${dayText(install.day)} : ${Math.round(install.weight * 100)} % sure.`);
      break;
    case 'not_done':
      lines.push('Known never to have been renewed: the original part.');
      break;
    case 'unknown':
    case 'assumed':
      lines.push(
        `Not known whether it was renewed: ${Math.round(row.originalChance * 100)} % that it is the original part.`,
      );
      break;
  }
  if (row.notTold.includes('window')) lines.push('When it fails is not told: the usual window of its kind stands in.');
  if (row.notTold.includes('share')) lines.push('How many have it is not told: half stands in.');
  const { distance, age } = row.dutyOn;
  if (distance !== 1)
    lines.push(
      `Distance counts x${factor(distance)} on this part: the use is ${distance > 1 ? 'harder' : 'easier'} than usual.`,
    );
  if (age !== 1) lines.push(`Age counts x${factor(age)} on this part.`);
  if (row.fittedTo === 'engine' && answer.usage.engine) {
    lines.push(
      `The engine was swapped on ${dayText(answer.usage.engine.fittedDay)} and has run about ${distanceText(answer.usage.engine.km, unit, 1000)}${answer.usage.engine.assumed ? ', taken to be as old as the vehicle' : ''}; its parts count from that.`,
    );
  }
  if (row.causes.flat().some(({ clock }) => clock === 'hours') && unit !== 'h')
    lines.push('Engine hours are estimated from the distance at the average speed of this use.');
  if (answer.usage.startAssumed)
    lines.push('The year is not known: age is estimated from the reading and the usual use.');
  const last = row.looks.at(-1);
  if (last?.result === 'failed') lines.push(`It failed on ${dayText(last.day)}; nothing recorded after that.`);
  else if (last)
    lines.push(
      `Last looked at on ${dayText(last.day)}: ${FOUND_WORDS[last.result]}${row.looks.length > 1 ? `, ${row.looks.length} looks in all` : ''}.`,
    );
  if (row.experience)
    lines.push(
      `Our own vehicles count in: ${row.experience.parts} ${row.experience.parts === 1 ? 'part' : 'parts'} observed, ${row.experience.failures} failed.`,
    );
  if (row.settle !== null)
    lines.push(
      `It applies to ${Math.round(row.appliesWeight * 100)} % of the engines that fit. To settle it: ${row.settle}.`,
    );
  return lines;
}
