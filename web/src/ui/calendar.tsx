import type { ReactNode } from 'react';
import { DayPicker } from 'react-day-picker';
import 'react-day-picker/style.css';

/** A month to pick a day from; days are UTC dates. */
export default function Calendar({ day, onPick }: { day: number; onPick: (date: Date) => void }): ReactNode {
  const date = new Date(day * 86_400_000);
  return (
    <DayPicker
      mode="single"
      timeZone="UTC"
      weekStartsOn={1}
      selected={date}
      defaultMonth={date}
      onSelect={(picked) => {
        if (picked) onPick(picked);
      }}
    />
  );
}
