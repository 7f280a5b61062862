import { useEffect, useRef, useState, type ReactNode } from 'react';

/** A sheet for a table that may be wider than the screen: where it scrolls it can be reached and moved by keys. */
export function Scroller({ label, children }: { label: string; children: ReactNode }): ReactNode {
  const box = useRef<HTMLDivElement>(null);
  const [scrolls, setScrolls] = useState(false);
  useEffect(() => {
    const { current } = box;
    if (current === null) return undefined;
    const look = (): void => setScrolls(current.scrollWidth > current.clientWidth + 1);
    const observer = new ResizeObserver(look);
    observer.observe(current);
    if (current.firstElementChild) observer.observe(current.firstElementChild);
    look();
    return () => observer.disconnect();
  }, []);
  return (
    <div
      ref={box}
      className="overflow-x-auto rounded-md border border-rule bg-sheet"
      {...(scrolls ? { tabIndex: 0, role: 'region', 'aria-label': label } : {})}
    >
      {children}
    </div>
  );
}
