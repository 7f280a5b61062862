import type { ReactNode } from 'react';

/** A form of many fields: it is sent by its button, or from any field with Ctrl and Enter. */
export function WritingForm({
  onSend,
  className,
  children,
}: {
  onSend: () => void;
  className: string;
  children: ReactNode;
}): ReactNode {
  return (
    <form
      className={className}
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        onSend();
      }}
      // Before the field it stands in: a choice would open on the same key.
      onKeyDownCapture={(event) => {
        if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
          event.preventDefault();
          event.stopPropagation();
          onSend();
        }
      }}
    >
      {children}
    </form>
  );
}
