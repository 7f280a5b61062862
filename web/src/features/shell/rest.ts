import { BAY_REST_MINUTES } from '@crosspeen/contract';
import { useEffect } from 'react';

/** The server is told of touches at most once in so many milliseconds. */
const TELL_EVERY = 60_000;
const TOUCHES = ['pointerdown', 'keydown', 'wheel', 'touchstart'] as const;

/**
 * At a bay tablet: tells the server while somebody touches it, and calls `onRest` when nobody has for as long as it
 * takes to ask for a PIN again. Does nothing elsewhere.
 */
export function useRest(atTablet: boolean, { onTouch, onRest }: { onTouch: () => void; onRest: () => void }): void {
  useEffect(() => {
    if (!atTablet) return;
    let told = Date.now();
    let timer = setTimeout(onRest, BAY_REST_MINUTES * 60_000);
    const touched = (): void => {
      clearTimeout(timer);
      timer = setTimeout(onRest, BAY_REST_MINUTES * 60_000);
      if (Date.now() - told < TELL_EVERY) return;
      told = Date.now();
      onTouch();
    };
    for (const name of TOUCHES) window.addEventListener(name, touched, { passive: true });
    return () => {
      clearTimeout(timer);
      for (const name of TOUCHES) window.removeEventListener(name, touched);
    };
  }, [atTablet, onTouch, onRest]);
}
