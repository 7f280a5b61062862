import type { ReactNode } from 'react';
import { Button } from '../../ui/button.tsx';
import { Dialog } from '../../ui/dialog.tsx';
import { FormProblem } from '../../ui/problem.tsx';

/** A sheet that records one thing about a vehicle: its fields, what the server refused, and the button. */
export function RecordSheet({
  title,
  description,
  add,
  fields,
  onSend,
  onClose,
  save = 'Save',
  children,
}: {
  title: string;
  description: string;
  add: { readonly error: Error | null; readonly isPending: boolean };
  /** Fields that show their own problem. */
  fields: readonly string[];
  onSend: () => void;
  onClose: () => void;
  /** Words of the button. */
  save?: string;
  children: ReactNode;
}): ReactNode {
  return (
    <Dialog open onClose={onClose} title={title} description={description}>
      <form
        className="grid gap-4"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          onSend();
        }}
      >
        {children}
        <FormProblem error={add.error} fields={[...fields]} />
        <Button look="main" type="submit" disabled={add.isPending}>
          {save}
        </Button>
      </form>
    </Dialog>
  );
}
