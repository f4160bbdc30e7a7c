import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { DataTable, SortedTable, type Column, type KeyedColumn } from './DataTable.js';

interface Pack {
  readonly id: string;
  readonly name: string;
  readonly wh: number | null;
}
const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const shown = () =>
  screen
    .getAllByRole('row')
    .slice(1)
    .map((row) => within(row).getAllByRole('cell')[0]!.textContent);

describe('a table that puts its rows in order', () => {
  const columns: KeyedColumn<Pack>[] = [
    { key: 'name', title: 'Name', sortKey: ({ name }) => name, cell: ({ name }) => name },
    { key: 'wh', title: 'Energy, Wh', isNumber: true, sortKey: ({ wh }) => wh, cell: ({ wh }) => wh ?? '–' },
    { key: 'notes', title: 'Notes', cell: () => '' },
  ];
  const packs: Pack[] = [
    { id: '1', name: 'b', wh: 90 },
    { id: '2', name: 'c', wh: null },
    { id: '3', name: 'a', wh: 500 },
  ];

  it('goes up, down and back by a number, with what is not known last', async () => {
    render(<SortedTable label="Packs" columns={columns} rows={packs} idOf={({ id }) => id} />);
    const head = screen.getByRole('columnheader', { name: /Energy/ });
    const orders = [];
    for (let k = 0; k < 3; k++) {
      await user().click(within(head).getByRole('button'));
      orders.push([shown().join(''), head.getAttribute('aria-sort')]);
    }
    expect(orders).toEqual([
      ['bac', 'ascending'],
      ['abc', 'descending'],
      ['bca', null],
    ]);
    expect(within(screen.getByRole('columnheader', { name: 'Notes' })).queryByRole('button')).toBeNull();
  });

  it('shows a hundred rows first, and all that are asked for', async () => {
    const many = Array.from({ length: 230 }, (_, k): Pack => ({ id: String(k), name: String(k), wh: -k }));
    render(<SortedTable label="Packs" columns={columns} rows={many} idOf={({ id }) => id} />);
    expect(shown()).toHaveLength(100);
    expect(screen.getByText('100 of 230')).toBeInTheDocument();
    await user().click(within(screen.getByRole('columnheader', { name: /Energy/ })).getByRole('button'));
    // All of them are put in order, not those alone that are shown.
    expect(shown()[0]).toBe('229');
    await user().click(screen.getByRole('button', { name: 'Show more' }));
    await user().click(screen.getByRole('button', { name: 'Show more' }));
    expect(shown()).toHaveLength(230);
    expect(screen.queryByRole('button', { name: 'Show more' })).toBeNull();
  });
});

it('a row is drawn again only when it changes', () => {
  const drawn: string[] = [];
  const columns: Column<Pack>[] = [{ key: 'name', title: 'Name', cell: ({ name }) => (drawn.push(name), name) }];
  const rows: Pack[] = [
    { id: '1', name: 'b', wh: 1 },
    { id: '2', name: 'c', wh: 2 },
  ];
  const table = (of: readonly Pack[], chosen: readonly string[]) => (
    <DataTable
      label="Packs"
      columns={columns}
      rows={of}
      idOf={({ id }) => id}
      choosing={{ chosen, onChoose, label: ({ name }) => `Choose ${name}` }}
    />
  );
  const onChoose = (): void => undefined;
  const { rerender } = render(table(rows, []));
  drawn.length = 0;
  rerender(table([...rows].reverse(), []));
  expect(drawn).toEqual([]);
  rerender(table([...rows].reverse(), ['2']));
  expect(drawn).toEqual(['c']);
  expect(screen.getByRole('checkbox', { name: 'Choose c' })).toBeChecked();
});
