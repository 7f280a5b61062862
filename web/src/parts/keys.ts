import { useEffect } from 'react';

/** Asks whatever page holds the lookup line to take the focus. */
export const LINE_ID = 'lookup-line';

export interface KeyAction {
  readonly key: string;
  readonly label: string;
  readonly run: () => void;
}

const typing = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName));

/** Listens for single keys while nothing is being typed and no sheet is open. */
export function useKeys(actions: readonly KeyAction[]): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return;
      if (document.querySelector('[role=dialog]')) return;
      const action = actions.find(({ key }) => key === event.key);
      if (!action) return;
      event.preventDefault();
      action.run();
    };
    document.addEventListener('keydown', onKey);
    return () => document.removeEventListener('keydown', onKey);
  }, [actions]);
}

/** All keys of the application, for the list behind `?`. */
export const KEY_LIST: readonly { readonly keys: string; readonly what: string }[] = [
  { keys: '/', what: 'go to the lookup line' },
  { keys: 'Enter', what: 'answer, open, keep what was dragged' },
  { keys: 'Esc', what: 'step back, close' },
  { keys: '↑ ↓', what: 'move in lists and lanes' },
  { keys: '← →', what: 'move a focused visit by a week, with Shift by a month' },
  { keys: 'Ctrl K', what: 'every command by name' },
  { keys: 'k', what: 'keep the answer as a vehicle' },
  { keys: 'r', what: 'add a reading to the vehicle' },
  { keys: 'v', what: 'plan a visit for the vehicle' },
  { keys: 'u', what: 'undo what was just done' },
  { keys: '?', what: 'this list' },
];
