import { historyAnswer, type knownPairs } from '@crosspeen/contract';
import { dayFromIso, OLDER, type DistanceUnit } from '@crosspeen/core';
import type { Answer } from '../../api/answer.ts';
import { dayText, distanceText } from '../../ui/units.ts';

type Pair = ReturnType<typeof knownPairs>[number];

const plain = (key: string): string => key.replaceAll('-', ' ');

/** What was answered about a part's history, in words. */
function historyWords(text: string, unit: DistanceUnit): string {
  const said = historyAnswer(text);
  if (said === null) return text;
  if (said.kind !== 'renewed') return said.kind === 'never' ? 'never renewed' : 'not known';
  const when =
    said.day !== null
      ? `about ${dayText(dayFromIso(said.day)!)}`
      : said.km !== null
        ? `at about ${distanceText(said.km, unit, 100)}`
        : 'lately';
  return `renewed ${when}${said.grade === 'original' ? '' : `, ${said.grade} part`}`;
}

/** An answered question as people read it: what it was about, and the answer. */
export function settledWords(
  { about, answer: said }: Pair,
  rows: Pick<Answer, 'rows'>['rows'],
  unit: DistanceUnit,
): { readonly about: string; readonly said: string } {
  const [kind, key = ''] = about.split(/:(.*)/s) as [string, string?];
  const component = rows.find(({ componentKey }) => componentKey === key)?.component ?? plain(key);
  if (kind === 'history') return { about: component, said: historyWords(said, unit) };
  if (kind === 'fitted') return { about: component, said: said === OLDER ? 'an older one' : `revision ${said}` };
  return { about: plain(key === '' ? kind : key), said };
}
