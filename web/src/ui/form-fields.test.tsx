/** @jest-environment jsdom */
import { dayFromIso } from '@crosspeen/core';
import { render, screen } from '@testing-library/react';
import { userEvent } from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { useForm } from 'react-hook-form';
import { FormDay, FormDistance } from './form-fields.tsx';
import { Toggles } from './toggles.tsx';

const TODAY = dayFromIso('2026-11-24')!;

function Sheet({ onSend, said }: { onSend: (values: object) => void; said?: string }): ReactNode {
  const { control, handleSubmit } = useForm({ defaultValues: { day: '', since: '', reading: '' } });
  return (
    <form noValidate onSubmit={(event) => void handleSubmit((values) => onSend(values))(event)}>
      <FormDay
        control={control}
        name="day"
        label="On"
        today={TODAY}
        needed="give the date"
        wrong="is no date"
        said={said}
      />
      <FormDay control={control} name="since" label="Since" today={TODAY} wrong="is no date" />
      <FormDistance
        control={control}
        name="reading"
        label="Reading"
        unit="km"
        needed="give a reading"
        wrong="is no figure"
      />
      <button type="submit">Send</button>
    </form>
  );
}
const alerts = (): (string | null)[] => screen.queryAllByRole('alert').map(({ textContent }) => textContent);

test('nothing is wrong before it is sent; then each field says what it needs, and is quiet once it has it', async () => {
  const user = userEvent.setup();
  const onSend = jest.fn();
  render(<Sheet onSend={onSend} />);
  await user.type(screen.getByLabelText('Since'), 'spring');
  expect(alerts()).toEqual([]);
  await user.click(screen.getByRole('button', { name: 'Send' }));
  expect(alerts()).toEqual(['▲ Give the date', '▲ Is no date', '▲ Give a reading']);
  expect(onSend).not.toHaveBeenCalled();
  await user.type(screen.getByLabelText('On'), 'today');
  await user.type(screen.getByLabelText('Reading'), '148k');
  expect(alerts()).toEqual(['▲ Is no date']);
  await user.clear(screen.getByLabelText('Since'));
  await user.click(screen.getByRole('button', { name: 'Send' }));
  expect(onSend).toHaveBeenCalledWith({ day: 'today', since: '', reading: '148k' });
});

test('what was understood stands below the field', async () => {
  const user = userEvent.setup();
  render(<Sheet onSend={() => undefined} />);
  await user.type(screen.getByLabelText('On'), '14.5.2026');
  await user.type(screen.getByLabelText('Reading'), '92k mi');
  expect(screen.getByText('14 May 2026')).toBeTruthy();
  expect(screen.getByText('148,060 km')).toBeTruthy();
});

test('what the server has against a field stands there', () => {
  render(<Sheet onSend={() => undefined} said="lies before the vehicle was made" />);
  expect(alerts()).toEqual(['▲ Lies before the vehicle was made']);
});

test('of several views one is on; pressing it again leaves it on', async () => {
  const user = userEvent.setup();
  const onChange = jest.fn();
  render(
    <Toggles<'plate' | 'pressing'>
      label="Order"
      value="plate"
      onChange={onChange}
      options={{ pressing: 'Most urgent', plate: 'By plate' }}
    />,
  );
  expect(screen.getByRole('radio', { name: 'By plate', checked: true })).toBeTruthy();
  await user.click(screen.getByRole('radio', { name: 'By plate' }));
  expect(onChange).not.toHaveBeenCalled();
  await user.click(screen.getByRole('radio', { name: 'Most urgent' }));
  expect(onChange).toHaveBeenCalledWith('pressing');
});
