import type { LookPlace } from '@crosspeen/core';

/** Names of the places of a walk, on screen and on the sheet. */
export const WALK_PLACE_WORDS: Readonly<Record<LookPlace, string>> = {
  inside: 'From the seat',
  top: 'From above',
  front: 'At the front',
  rear: 'At the rear',
  underneath: 'Underneath, on the lift',
  opened: 'With something off',
  road: 'On the road',
};
