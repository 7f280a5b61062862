import { useRef, useState, type ReactNode } from 'react';
import { Button } from './button.tsx';

/** Takes one file, dropped or chosen. */
export function FileDrop({
  label,
  accept,
  hint,
  onFile,
  disabled = false,
}: {
  label: string;
  accept: string;
  hint: ReactNode;
  onFile: (file: File) => void;
  disabled?: boolean;
}): ReactNode {
  const input = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  return (
    <div
      className={`rounded-md border-2 border-dashed px-4 py-6 text-center ${over ? 'border-accent bg-accent-wash' : 'border-rule-strong bg-sheet'}`}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setOver(false);
        const file = event.dataTransfer.files[0];
        if (file && !disabled) onFile(file);
      }}
    >
      <input
        ref={input}
        type="file"
        accept={accept}
        aria-label={label}
        className="sr-only"
        disabled={disabled}
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) onFile(file);
          event.target.value = '';
        }}
      />
      <Button look="main" disabled={disabled} onClick={() => input.current?.click()}>
        {label}
      </Button>
      <p className="mt-2 text-soft">{hint}</p>
    </div>
  );
}
