import { X } from 'lucide-react';
import { Dialog as Primitive } from 'radix-ui';
import { useRef, useState, type ReactNode } from 'react';
import { firstField, giveBack } from './focus.ts';

function begin(event: Event, body: HTMLElement | null): void {
  const first = body === null ? null : firstField(body);
  if (first === null) return;
  event.preventDefault();
  first.focus();
  if (first instanceof HTMLInputElement) first.select();
}

/** A sheet over the page. It begins on its first field; Esc steps back, and the focus returns to what opened it. */
export function Dialog({
  open,
  onClose,
  title,
  description,
  children,
  wide = false,
}: {
  open: boolean;
  onClose: () => void;
  title: string;
  description?: string;
  children: ReactNode;
  wide?: boolean;
}): ReactNode {
  const body = useRef<HTMLDivElement>(null);
  const [opener] = useState(() => document.activeElement);
  return (
    <Primitive.Root
      open={open}
      onOpenChange={(next) => {
        if (!next) onClose();
      }}
    >
      <Primitive.Portal>
        <Primitive.Overlay className="fixed inset-0 z-40 bg-black/45" />
        <Primitive.Content
          onOpenAutoFocus={(event) => begin(event, body.current)}
          onCloseAutoFocus={(event) => {
            event.preventDefault();
            giveBack(opener);
          }}
          {...(description === undefined ? { 'aria-describedby': undefined } : {})}
          className={`fixed left-1/2 top-1/2 z-50 flex max-h-[92dvh] w-[calc(100vw-1.5rem)] -translate-x-1/2 -translate-y-1/2 flex-col rounded-lg border border-rule-strong bg-sheet shadow-xl ${wide ? 'max-w-3xl' : 'max-w-xl'}`}
        >
          <header className="flex items-start justify-between gap-4 border-b border-rule px-5 py-3">
            <div>
              <Primitive.Title className="text-2xl">{title}</Primitive.Title>
              {description !== undefined && (
                <Primitive.Description className="text-soft">{description}</Primitive.Description>
              )}
            </div>
            <Primitive.Close
              className="grid size-11 shrink-0 place-items-center rounded hover:bg-well"
              aria-label="Close"
            >
              <X size={20} />
            </Primitive.Close>
          </header>
          <div ref={body} className="overflow-y-auto px-5 py-4">
            {children}
          </div>
        </Primitive.Content>
      </Primitive.Portal>
    </Primitive.Root>
  );
}
