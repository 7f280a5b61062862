import { useEffect, useRef } from 'react';

const FOCUSABLE =
  'a[href], button:not([disabled]), input:not([disabled]), select:not([disabled]), textarea:not([disabled]), summary, [tabindex]:not([tabindex="-1"])';
const HEADINGS = 'h1, h2, h3';

/** Puts the focus on an element that is not reached by tabbing, such as a heading. */
function focusOn(element: HTMLElement): void {
  if (!element.matches(FOCUSABLE)) element.tabIndex = -1;
  element.focus({ preventScroll: !element.matches(FOCUSABLE) });
}

const pageHeading = (): HTMLElement | null => document.querySelector<HTMLElement>('main h1');

/** Whether the focus is nowhere: on the page as a whole. */
const nowhere = (): boolean => document.activeElement === null || document.activeElement === document.body;

/**
 * The first field of a sheet, so that typing goes where it is meant to; its text is marked, to be typed over. Null
 * where it has none.
 */
export function firstField(within: HTMLElement): HTMLElement | null {
  const field = within.querySelector<HTMLElement>(
    'input:not([type=hidden]):not([disabled]):not([readonly]), select:not([disabled]), textarea:not([disabled])',
  );
  const choice = within.querySelector<HTMLElement>('[role=radio][data-state=checked], [role=radio]');
  // Whichever stands first on the sheet; a group of choices is entered at the one that is chosen.
  if (field !== null && choice !== null)
    return field.compareDocumentPosition(choice) & Node.DOCUMENT_POSITION_PRECEDING ? choice : field;
  return field ?? choice ?? within.querySelector<HTMLElement>(FOCUSABLE);
}

/** Gives the focus back to what had it, or, where that is gone, to the heading of the page. */
export function giveBack(opener: Element | null): void {
  const to = opener instanceof HTMLElement && opener.isConnected && opener !== document.body ? opener : pageHeading();
  if (to) focusOn(to);
}

/**
 * Keeps the focus somewhere: another view begins at its heading, and when what had the focus is taken from the page (a
 * question that is answered, a row that is saved), the nearest thing left around it has it next. The title of the
 * window is that of the view.
 */
export function useFocusKept(pathname: string): void {
  const begun = useRef<string | null>(null);
  const arriving = useRef(false);
  useEffect(() => {
    if (begun.current !== null && begun.current !== pathname) arriving.current = true;
    begun.current = pathname;
  }, [pathname]);
  useEffect(() => {
    let last: HTMLElement | null = null;
    let around: readonly Element[] = [];
    const focused = ({ target }: FocusEvent): void => {
      if (!(target instanceof HTMLElement) || target === document.body) return;
      last = target;
      around = [];
      const chain: Element[] = [];
      for (let at = target.parentElement; at !== null && at !== document.body; at = at.parentElement) chain.push(at);
      around = chain;
    };
    // Whoever clicks beside everything means to have the focus nowhere.
    const pressed = (): void => {
      last = null;
    };
    const mend = (): void => {
      const heading = pageHeading();
      if (heading) {
        const title = `${heading.innerText.replace(/\s+/g, ' ').trim()} · Crosspeen`;
        if (document.title !== title) document.title = title;
      }
      if (arriving.current && heading) {
        arriving.current = false;
        // A view that puts the focus on a field of its own knows better.
        if (!document.activeElement?.closest('main, [role=dialog]')) focusOn(heading);
        return;
      }
      if (!nowhere() || last === null || document.querySelector('[role=dialog]') !== null) return;
      if (last.isConnected) {
        if (last.matches(FOCUSABLE)) last.focus();
        return;
      }
      const left = around.find((element) => element.isConnected);
      const to = left?.querySelector<HTMLElement>(HEADINGS) ?? left?.querySelector<HTMLElement>(FOCUSABLE) ?? heading;
      if (to) focusOn(to);
    };
    let asked = 0;
    const observer = new MutationObserver(() => {
      cancelAnimationFrame(asked);
      asked = requestAnimationFrame(mend);
    });
    observer.observe(document.body, {
      childList: true,
      subtree: true,
      characterData: true,
      attributes: true,
      attributeFilter: ['disabled'],
    });
    document.addEventListener('focusin', focused);
    document.addEventListener('pointerdown', pressed, true);
    mend();
    return () => {
      cancelAnimationFrame(asked);
      observer.disconnect();
      document.removeEventListener('focusin', focused);
      document.removeEventListener('pointerdown', pressed, true);
    };
  }, []);
}
