/** @jest-environment jsdom */
import { render, screen } from '@testing-library/react';
import { userEvent } from '@testing-library/user-event';
import { useState, type ReactNode } from 'react';
import { useForm } from 'react-hook-form';
import { FormSelect } from './form-fields.tsx';
import { Select } from './select.tsx';
import { WritingForm } from './writing-form.tsx';

const SOURCES = [
  { value: '', label: 'Not said' },
  { value: 'own work', label: 'Our own work' },
  { value: 'invoice', label: 'An invoice' },
];

function Held({ first, onPick }: { first: string; onPick: (value: string) => void }): ReactNode {
  const [value, setValue] = useState(first);
  return (
    <Select
      aria-label="Source"
      value={value}
      onChange={(picked: string) => {
        setValue(picked);
        onPick(picked);
      }}
      options={SOURCES}
      placeholder="Decide"
    />
  );
}

test('the empty choice is one like another; what is none of the options shows the question', async () => {
  const user = userEvent.setup();
  const onPick = jest.fn();
  const { unmount } = render(<Held first="own work" onPick={onPick} />);
  const source = screen.getByRole('combobox', { name: 'Source' });
  expect(source.textContent).toBe('Our own work');
  source.focus();
  await user.keyboard('{Enter}');
  await user.keyboard('{Home}{Enter}');
  expect(onPick.mock.calls).toEqual([['']]);
  expect(source.textContent).toBe('Not said');
  unmount();
  render(<Held first="nobody" onPick={onPick} />);
  expect(screen.getByRole('combobox').textContent).toBe('Decide');
});

test('letters find an option, also over a space, without opening the list', async () => {
  const user = userEvent.setup();
  const onPick = jest.fn();
  render(<Held first="" onPick={onPick} />);
  const source = screen.getByRole('combobox');
  source.focus();
  await user.keyboard('an in');
  expect(source.textContent).toBe('An invoice');
  expect(source.getAttribute('aria-expanded')).toBe('false');
});

test('in a form it keeps its value, tells what follows, and Ctrl and Enter send the form instead of opening it', async () => {
  const user = userEvent.setup();
  const onPick = jest.fn();
  const onSend = jest.fn();
  const Sheet = (): ReactNode => {
    const { control, getValues } = useForm({ defaultValues: { source: '' } });
    return (
      <WritingForm className="" onSend={() => void onSend(getValues())}>
        <FormSelect control={control} name="source" label="How is it known?" options={SOURCES} onPick={onPick} />
      </WritingForm>
    );
  };
  render(<Sheet />);
  const source = screen.getByLabelText('How is it known?');
  source.focus();
  await user.keyboard('o');
  expect(onPick.mock.calls).toEqual([['own work']]);
  await user.keyboard('{Control>}{Enter}{/Control}');
  expect(onSend.mock.calls).toEqual([[{ source: 'own work' }]]);
  expect(source.getAttribute('aria-expanded')).toBe('false');
});
