/** @jest-environment jsdom */
import { render, screen, within } from '@testing-library/react';
import { userEvent } from '@testing-library/user-event';
import { DataTable, type DataTableProps, type TableColumn } from './data-table.tsx';

interface Part {
  readonly name: string;
  readonly minutes: number;
}
const PARTS: readonly Part[] = [
  { name: 'Belt', minutes: 170 },
  { name: 'Pump', minutes: 45 },
  { name: 'Alternator', minutes: 60 },
];
const COLUMNS: readonly TableColumn<Part>[] = [
  {
    id: 'name',
    head: 'Part',
    names: true,
    sortBy: ({ name }) => name,
    cell: ({ name }) => (
      <button type="button" data-row>
        {name}
      </button>
    ),
  },
  { id: 'minutes', head: 'By itself', sortBy: ({ minutes }) => minutes, cell: ({ minutes }) => `${minutes} min` },
  { id: 'note', head: 'Note', from: 'lg', cell: () => 'none' },
];
const shown = (changes: Partial<DataTableProps<Part>> = {}) =>
  render(<DataTable label="Parts" columns={COLUMNS} rows={PARTS} rowKey={({ name }) => name} {...changes} />);
const names = (): (string | null)[] => screen.getAllByRole('rowheader').map(({ textContent }) => textContent);
const head = (name: RegExp): HTMLElement => screen.getByRole('columnheader', { name });

test('rows stand as they come until a head is pressed: then by it, the other way round, and as they came again', async () => {
  const user = userEvent.setup();
  shown();
  expect(names()).toEqual(['Belt', 'Pump', 'Alternator']);
  const press = () => user.click(within(head(/Part/)).getByRole('button'));
  await press();
  expect(names()).toEqual(['Alternator', 'Belt', 'Pump']);
  expect(head(/Part/).getAttribute('aria-sort')).toBe('ascending');
  await press();
  expect(names()).toEqual(['Pump', 'Belt', 'Alternator']);
  expect(head(/Part/).getAttribute('aria-sort')).toBe('descending');
  await press();
  expect(names()).toEqual(['Belt', 'Pump', 'Alternator']);
  expect(head(/Part/).getAttribute('aria-sort')).toBe('none');
});

test('figures are sorted as figures, not as words', async () => {
  const user = userEvent.setup();
  shown();
  await user.click(within(head(/By itself/)).getByRole('button'));
  expect(names()).toEqual(['Pump', 'Alternator', 'Belt']);
});

test('a head that cannot be sorted by is no button, and one that is sorted elsewhere asks there', async () => {
  const user = userEvent.setup();
  const onSort = jest.fn();
  shown({
    columns: COLUMNS.map((column) =>
      column.id === 'note' ? { ...column, order: { sorted: 'descending', onSort } } : { ...column, sortBy: undefined! },
    ),
  });
  expect(within(head(/Part/)).queryByRole('button')).toBeNull();
  expect(head(/Part/).hasAttribute('aria-sort')).toBe(false);
  expect(head(/Note/).getAttribute('aria-sort')).toBe('descending');
  await user.click(within(head(/Note/)).getByRole('button'));
  expect(onSort).toHaveBeenCalledTimes(1);
  expect(names()).toEqual(['Belt', 'Pump', 'Alternator']);
});

test('the arrows go from row to row, stop at the last, and lead out above the first', async () => {
  const user = userEvent.setup();
  const onLeave = jest.fn();
  shown({ onLeave });
  screen.getByRole('button', { name: 'Belt' }).focus();
  await user.keyboard('{ArrowDown}{ArrowDown}{ArrowDown}');
  expect(document.activeElement!.textContent).toBe('Alternator');
  await user.keyboard('{ArrowUp}{ArrowUp}');
  expect(document.activeElement!.textContent).toBe('Belt');
  expect(onLeave).not.toHaveBeenCalled();
  await user.keyboard('{ArrowUp}');
  expect(onLeave).toHaveBeenCalledTimes(1);
});

test('what is told of a row stands under it across the table; rows without it have no second line', () => {
  shown({ detail: ({ name }) => (name === 'Pump' ? <p>Drain first</p> : null), bodyId: ({ name }) => `row-${name}` });
  const body = document.getElementById('row-Pump')!;
  expect(within(body).getAllByRole('row')).toHaveLength(2);
  expect(within(body).getByText('Drain first').closest('td')!.colSpan).toBe(COLUMNS.length);
  expect(within(document.getElementById('row-Belt')!).getAllByRole('row')).toHaveLength(1);
});

test('without rows it says so', () => {
  shown({ rows: [], none: <p>Nothing applies</p> });
  expect(screen.getByText('Nothing applies')).toBeTruthy();
  expect(screen.queryAllByRole('rowheader')).toEqual([]);
});
