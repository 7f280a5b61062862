/** @jest-environment jsdom */
import { render, screen } from '@testing-library/react';
import { userEvent } from '@testing-library/user-event';
import { AllGoodHere } from './all-good.tsx';
import type { Said } from './entering.ts';
import type { ItemStanding } from './standing.ts';

const glance = (key: string, component: string, good: string | null): ItemStanding =>
  ({ step: { key, component, title: `Title of ${component}`, good } }) as unknown as ItemStanding;
const two = [glance('point:a', 'Breather', 'dry'), glance('point:b', 'Cover', null)];

test('says what it is about to write, and writes nothing before it is told to', async () => {
  const written: Said[][] = [];
  render(<AllGoodHere glances={two} onAllGood={(said) => written.push(said)} />);
  await userEvent.click(screen.getByRole('button', { name: '2 glances good' }));
  expect(screen.getAllByRole('listitem').map(({ textContent }) => textContent)).toEqual(['Breather: dry', 'Cover']);
  expect(written).toEqual([]);
  await userEvent.click(screen.getByRole('button', { name: 'Cancel' }));
  expect(written).toEqual([]);
  await userEvent.click(screen.getByRole('button', { name: '2 glances good' }));
  await userEvent.click(screen.getByRole('button', { name: 'Save as good' }));
  expect(written).toEqual([
    [
      { key: 'point:a', result: 'sound', seen: null },
      { key: 'point:b', result: 'sound', seen: null },
    ],
  ]);
});

test.each([0, 1])('with %i such looks there is nothing to press together', (n) => {
  render(<AllGoodHere glances={two.slice(0, n)} onAllGood={() => undefined} />);
  expect(screen.queryByRole('button')).toBeNull();
});
