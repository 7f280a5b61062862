import { X } from 'lucide-react';
import { Dialog as Primitive } from 'radix-ui';
import type { ReactNode } from 'react';

/** A sheet over the page. Esc steps back; focus returns to where it was. */
export function Dialog({ open, onClose, title, description, children, wide = false }: {
  open: boolean; onClose: () => void; title: string; description?: string; children: ReactNode; wide?: boolean;
}): ReactNode {
  return (
    <Primitive.Root open={open} onOpenChange={(next) => { if (!next) onClose(); }}>
      <Primitive.Portal>
        <Primitive.Overlay className="fixed inset-0 z-40 bg-black/45" />
        <Primitive.Content {...(description === undefined ? { 'aria-describedby': undefined } : {})}
          className={`fixed left-1/2 top-1/2 z-50 flex max-h-[92dvh] w-[calc(100vw-1.5rem)] -translate-x-1/2 -translate-y-1/2 flex-col rounded-lg border border-rule-strong bg-sheet shadow-xl ${wide ? 'max-w-3xl' : 'max-w-xl'}`}>
          <header className="flex items-start justify-between gap-4 border-b border-rule px-5 py-3">
            <div>
              <Primitive.Title className="text-2xl">{title}</Primitive.Title>
              {description !== undefined && <Primitive.Description className="text-soft">{description}</Primitive.Description>}
            </div>
            <Primitive.Close className="grid size-11 shrink-0 place-items-center rounded hover:bg-well" aria-label="Close"><X size={20} /></Primitive.Close>
          </header>
          <div className="overflow-y-auto px-5 py-4">{children}</div>
        </Primitive.Content>
      </Primitive.Portal>
    </Primitive.Root>
  );
}
