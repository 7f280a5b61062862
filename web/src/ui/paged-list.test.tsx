/** @jest-environment jsdom */
import { QueryClient, QueryClientProvider, queryOptions } from '@tanstack/react-query';
import { render, screen, waitFor } from '@testing-library/react';
import { userEvent } from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { BrowserRouter } from 'react-router';
import { ListSearch, PagedView, usePagedList } from './paged-list.tsx';

interface Row {
  readonly name: string;
}
type Answer = { readonly rows: readonly Row[]; readonly total: number; readonly pageSize: number };
const ALL = ['Belt', 'Pump', 'Hose', 'Radiator', 'Thermostat'];
const asked: { q: string; page: number }[] = [];
/** Two rows a page of those that hold what is looked for. */
const answer = ({ q, page }: { q: string; page: number }): Answer => {
  asked.push({ q, page });
  const fit = ALL.filter((name) => name.toLowerCase().includes(q.toLowerCase()));
  return { rows: fit.slice(2 * page - 2, 2 * page).map((name) => ({ name })), total: fit.length, pageSize: 2 };
};

function List({ ask }: { ask: (of: { q: string; page: number }) => Promise<Answer> }): ReactNode {
  const of = usePagedList(({ q, page }) =>
    queryOptions({ queryKey: ['parts', q, page], queryFn: () => ask({ q, page }) }),
  );
  return (
    <main>
      <ListSearch id="search" label="Search parts" placeholder="Part" list={of} />
      <PagedView of={of} what="parts" empty={<p>No part fits</p>} csv="/api/lists/parts.csv">
        {(rows) => (
          <ul>
            {rows.map(({ name }) => (
              <li key={name}>{name}</li>
            ))}
          </ul>
        )}
      </PagedView>
    </main>
  );
}

const shown = (at: string, ask: (of: { q: string; page: number }) => Promise<Answer>) => {
  window.history.replaceState(null, '', at);
  return render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      <BrowserRouter>
        <List ask={ask} />
      </BrowserRouter>
    </QueryClientProvider>,
  );
};
const items = (): (string | null)[] => screen.queryAllByRole('listitem').map(({ textContent }) => textContent);
beforeEach(() => asked.splice(0));

test('the address brings back its page and its search', async () => {
  shown('/?q=o&page=2', (of) => Promise.resolve(answer(of)));
  expect(screen.getByRole('status').textContent).toBe('Loading the parts …');
  await waitFor(() => expect(items()).toEqual(['Thermostat']));
  expect(asked).toEqual([{ q: 'o', page: 2 }]);
  expect(screen.getByLabelText<HTMLInputElement>('Search parts').value).toBe('o');
});

test('turning a page writes it into the address, one step back at a time; the first page is not named', async () => {
  const user = userEvent.setup();
  shown('/', (of) => Promise.resolve(answer(of)));
  await waitFor(() => expect(items()).toEqual(['Belt', 'Pump']));
  await user.click(screen.getByRole('button', { name: 'Next' }));
  await waitFor(() => expect(items()).toEqual(['Hose', 'Radiator']));
  expect(window.location.search).toBe('?page=2');
  await user.click(screen.getByRole('button', { name: 'Previous' }));
  await waitFor(() => expect(items()).toEqual(['Belt', 'Pump']));
  expect(window.location.search).toBe('');
  window.history.back();
  await waitFor(() => expect(items()).toEqual(['Hose', 'Radiator']));
});

test('a search begins at the first page, and what does not fit says so', async () => {
  const user = userEvent.setup();
  shown('/?page=3', (of) => Promise.resolve(answer(of)));
  await waitFor(() => expect(items()).toEqual(['Thermostat']));
  await user.type(screen.getByLabelText('Search parts'), 'ho');
  await waitFor(() => expect(items()).toEqual(['Hose']));
  expect(window.location.search).toBe('?q=ho');
  await user.type(screen.getByLabelText('Search parts'), 'z');
  await screen.findByText('No part fits');
  expect(screen.queryByRole('navigation')).toBeNull();
});

test('a list that could not be fetched says why and can be asked again', async () => {
  const user = userEvent.setup();
  let broken = true;
  shown('/', (of) => (broken ? Promise.reject(new Error('The database is away')) : Promise.resolve(answer(of))));
  await waitFor(() => expect(screen.getByRole('alert').textContent).toContain('The database is away'));
  broken = false;
  await user.click(screen.getByRole('button', { name: 'Try again' }));
  await waitFor(() => expect(items()).toEqual(['Belt', 'Pump']));
  expect(screen.getByRole('link', { name: /Save as CSV/ }).getAttribute('href')).toBe('/api/lists/parts.csv');
});
