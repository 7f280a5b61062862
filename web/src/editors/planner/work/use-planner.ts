import type { Beside, Pins, Proposal, YearCost } from '@crosspeen/core';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { PlannerAsked } from './ground.ts';
import type { PlannerAsk } from './planner.worker.ts';

const begun = ({ ground, terms }: Pick<PlannerAsked, 'ground' | 'terms'>): Worker => {
  const worker = new Worker(new URL('./planner.worker.ts', import.meta.url), { type: 'module' });
  worker.postMessage({ kind: 'prepare', ground, terms } satisfies PlannerAsk);
  return worker;
};

/** Said where a thread ends without a word: its script could not be fetched. */
const NOT_LOADED = 'a part of it could not be loaded';

/** What the planner has found so far. */
export interface Planned {
  /** Null where something fits on no visit. */
  readonly proposal: Proposal | null;
  /** Nothing better is sought any more. */
  readonly isLast: boolean;
  /** What it would cost without what is pinned by hand; null where nothing is, or it is not known yet. */
  readonly free: number | null;
}

export interface Planner {
  /** Null until there is a first plan. */
  readonly planned: Planned | null;
  /** Why there will be none; null where nothing went wrong. */
  readonly problem: string | null;
  /** While something is dragged: the plan with it there; undefined while nothing is. */
  readonly dragged: Proposal | null | undefined;
  /** Has it reckoned with other pins, within a frame. */
  readonly drag: (pins: Pins) => void;
  /** Nothing is dragged any more; what was found last stands until there is better, or is forgotten. */
  readonly drop: (isKept: boolean) => void;
}

/** The thread that answers while something is dragged, and what it is at. */
interface Frames {
  readonly worker: Worker;
  isBusy: boolean;
  /** Pins that it is asked next, those it was asked last, and for how many frames more these were held. */
  next: Pins | null;
  at: Pins | null;
  held: number;
  last: Proposal['months'] | null;
}
/** Frames for which what is held still is thought over. */
const HELD_FRAMES = 12;

/** Asks what is to be asked next, unless the thread is at something. */
function askFrame(frames: Frames, sets: Proposal['sets']): void {
  const { next, isBusy } = frames;
  if (isBusy || next === null) return;
  frames.held = next === frames.at ? frames.held + 1 : 0;
  frames.at = next;
  frames.next = null;
  frames.isBusy = true;
  const ask: PlannerAsk = { kind: 'frame', pins: next, from: frames.last, sets, seed: frames.held + 1 };
  frames.worker.postMessage(ask);
}

/**
 * Visits as they are planned on threads of their own: one answers while something is dragged, the other finds the plan
 * and proves it, and is ended and begun again whenever what it is asked has changed.
 */
export function usePlanner(asked: PlannerAsked | null, pins: Pins): Planner {
  // What was planned for other records, or other terms, says nothing of these.
  const [found, setFound] = useState<{ readonly for: PlannerAsked; readonly planned: Planned } | null>(null);
  const [stopped, setStopped] = useState<{ readonly for: PlannerAsked; readonly problem: string } | null>(null);
  const [dragged, setDragged] = useState<Proposal | null | undefined>(undefined);
  const frames = useRef<Frames | null>(null);
  const shown = useRef<Pick<Proposal, 'months' | 'sets'> | null>(null);
  const isDragging = useRef(false);
  useEffect(() => {
    if (asked === null) return undefined;
    const worker = begun(asked);
    const state: Frames = { worker, isBusy: false, next: null, at: null, held: 0, last: null };
    frames.current = state;
    shown.current = null;
    worker.addEventListener('message', ({ data }: MessageEvent<{ proposal: Proposal | null }>) => {
      state.isBusy = false;
      if (!isDragging.current) return;
      state.last = data.proposal?.months ?? state.last;
      setDragged(data.proposal);
      // What is held still is thought over for some frames more.
      if (state.next === null && data.proposal !== null && state.held < HELD_FRAMES) state.next = state.at;
      askFrame(state, shown.current?.sets ?? []);
    });
    return () => {
      frames.current = null;
      worker.terminate();
    };
  }, [asked]);
  useEffect(() => {
    if (asked === null) return undefined;
    const worker = begun(asked);
    worker.addEventListener('message', ({ data }: MessageEvent<Planned>) => {
      shown.current = data.proposal;
      setFound({ for: asked, planned: data });
    });
    worker.addEventListener('error', ({ message }) => setStopped({ for: asked, problem: message || NOT_LOADED }));
    const free = pins.size > asked.standing.size ? asked.standing : null;
    worker.postMessage({ kind: 'prove', pins, from: shown.current?.months ?? null, free } satisfies PlannerAsk);
    return () => worker.terminate();
  }, [asked, pins]);
  const drag = useCallback((next: Pins) => {
    isDragging.current = true;
    const state = frames.current;
    if (state === null) return;
    state.next = next;
    state.last ??= shown.current?.months ?? null;
    askFrame(state, shown.current?.sets ?? []);
  }, []);
  const drop = useCallback(
    (isKept: boolean) => {
      isDragging.current = false;
      if (frames.current) {
        frames.current.next = null;
        frames.current.at = null;
        frames.current.last = null;
      }
      if (isKept && dragged !== undefined && asked !== null)
        setFound({ for: asked, planned: { proposal: dragged, isLast: false, free: null } });
      setDragged(undefined);
    },
    [dragged, asked],
  );
  return {
    planned: found !== null && found.for === asked ? found.planned : null,
    problem: stopped !== null && stopped.for === asked ? stopped.problem : null,
    dragged,
    drag,
    drop,
  };
}

/** What one question to the planner's thread is answered with. */
export interface Asked<Answer> {
  /** Null until it is answered. */
  readonly is: Answer | null;
  /** Why it will not be; null where nothing went wrong. */
  readonly problem: string | null;
}
const UNANSWERED = { is: null, problem: null } as const;

function useAsked<Answer>(asked: Pick<PlannerAsked, 'ground' | 'terms'> | null, ask: PlannerAsk | null): Asked<Answer> {
  const [answer, setAnswer] = useState<(Asked<Answer> & { readonly to: PlannerAsk }) | null>(null);
  useEffect(() => {
    if (asked === null || ask === null) return undefined;
    const worker = begun(asked);
    worker.addEventListener('message', ({ data }: MessageEvent<Answer>) => {
      setAnswer({ to: ask, is: data, problem: null });
      worker.terminate();
    });
    worker.addEventListener('error', ({ message }) => setAnswer({ to: ask, is: null, problem: message || NOT_LOADED }));
    worker.postMessage(ask);
    return () => worker.terminate();
  }, [asked, ask]);
  return answer !== null && answer.to === ask ? answer : UNANSWERED;
}

/** What else could be done beside some work, best first. */
export const useBeside = (asked: PlannerAsked | null, ask: PlannerAsk | null): Asked<readonly Beside[]> =>
  useAsked<readonly Beside[]>(asked, ask);

/** What the years ahead cost, with and without some things. */
export interface YearsAhead {
  readonly years: readonly YearCost[] | null;
  readonly without: readonly { readonly key: string; readonly years: readonly YearCost[] | null }[];
}
export const useYears = (asked: PlannerAsked | null, ask: PlannerAsk | null): Asked<YearsAhead> =>
  useAsked<YearsAhead>(asked, ask);
