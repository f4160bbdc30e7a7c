import { Button } from 'antd';
import { memo, useMemo, useState, type ReactNode } from 'react';
import { unknownLast, type Known } from './unknown-last.js';
import { Wide } from './Wide.js';

export interface Column<Row> {
  readonly key: string;
  readonly title: ReactNode;
  readonly cell: (row: Row) => ReactNode;
  readonly isNumber?: boolean;
  /** Whether the rows can be put in its order. */
  readonly isSorted?: boolean;
  /** Pixels, where it shall not follow what stands in it. */
  readonly width?: number;
}
export interface Order {
  readonly key: string;
  readonly direction: 'down' | 'up';
}
/** Rows that are chosen by a box before them. */
export interface Choosing<Row> {
  readonly chosen: readonly string[];
  readonly onChoose: (row: Row, isChosen: boolean) => void;
  readonly label: (row: Row) => string;
}

interface Props<Row> {
  readonly label: string;
  /** The same from draw to draw, else every row is drawn anew. */
  readonly columns: readonly Column<Row>[];
  readonly rows: readonly Row[];
  readonly idOf: (row: Row) => string;
  readonly toneOf?: (row: Row) => string;
  readonly order?: Order | undefined;
  readonly onOrder?: (order: Order | undefined) => void;
  readonly choosing?: Choosing<Row> | undefined;
  /** Others are on their way. */
  readonly isWaiting?: boolean;
  readonly className?: string;
}

/** Rows under heads that put them in order; a row is drawn again only when it changes. */
export function DataTable<Row>({
  label,
  columns,
  rows,
  idOf,
  toneOf,
  order,
  onOrder,
  choosing,
  isWaiting = false,
  className = '',
}: Props<Row>) {
  const chosen = new Set(choosing?.chosen);
  return (
    <Wide label={label}>
      <table className={`rows data-table ${isWaiting ? 'is-waiting' : ''} ${className}`} aria-busy={isWaiting}>
        <thead>
          <tr>
            {choosing && (
              <th className="chooser">
                <span className="unseen">Chosen</span>
              </th>
            )}
            {columns.map((column) => (
              <Head key={column.key} column={column} order={order} onOrder={onOrder} />
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => {
            const id = idOf(row);
            return (
              <DrawnRow
                key={id}
                row={row}
                columns={columns as readonly Column<unknown>[]}
                tone={toneOf?.(row) ?? ''}
                isChosen={chosen.has(id)}
                onChoose={choosing?.onChoose as ((row: unknown, isChosen: boolean) => void) | undefined}
                choiceLabel={choosing?.label(row) ?? ''}
              />
            );
          })}
        </tbody>
      </table>
    </Wide>
  );
}

function Head<Row>({
  column: { key, title, isNumber = false, isSorted = false, width },
  order,
  onOrder,
}: {
  readonly column: Column<Row>;
  readonly order: Order | undefined;
  readonly onOrder: ((order: Order | undefined) => void) | undefined;
}) {
  const direction = order?.key === key ? order.direction : undefined;
  const side = isNumber ? 'number' : '';
  if (!isSorted || !onOrder)
    return (
      <th className={side} style={{ width }}>
        {title}
      </th>
    );
  const next: Order | undefined =
    direction === 'down' ? undefined : { key, direction: direction === undefined ? 'up' : 'down' };
  return (
    <th
      className={side}
      style={{ width }}
      {...(direction && { 'aria-sort': direction === 'up' ? 'ascending' : 'descending' })}
    >
      <button type="button" className="sort-head" onClick={() => onOrder(next)}>
        {title}
        <span aria-hidden="true" className={direction ? 'sort-sign' : 'sort-sign faint'}>
          {direction === 'up' ? '▲' : direction === 'down' ? '▼' : '▴▾'}
        </span>
      </button>
    </th>
  );
}

const DrawnRow = memo(function DrawnRow({
  row,
  columns,
  tone,
  isChosen,
  onChoose,
  choiceLabel,
}: {
  readonly row: unknown;
  readonly columns: readonly Column<unknown>[];
  readonly tone: string;
  readonly isChosen: boolean;
  readonly onChoose: ((row: unknown, isChosen: boolean) => void) | undefined;
  readonly choiceLabel: string;
}) {
  return (
    <tr className={isChosen ? `${tone} chosen` : tone}>
      {onChoose && (
        <td className="chooser">
          <input
            type="checkbox"
            aria-label={choiceLabel}
            checked={isChosen}
            onChange={({ target }) => onChoose(row, target.checked)}
          />
        </td>
      )}
      {columns.map(({ key, cell, isNumber }) => (
        <td key={key} className={isNumber ? 'number' : ''}>
          {cell(row)}
        </td>
      ))}
    </tr>
  );
});

/** A column that rows which are all here can be put in order by. */
export interface KeyedColumn<Row> extends Column<Row> {
  readonly sortKey?: (row: Row) => Known | null | undefined;
}
const FIRST_ROWS = 100;

/** A table that puts its rows in order by itself; of many rows some are shown first. */
export function SortedTable<Row>({
  columns,
  rows,
  ...rest
}: Omit<Props<Row>, 'columns' | 'onOrder' | 'order'> & { readonly columns: readonly KeyedColumn<Row>[] }) {
  const [order, setOrder] = useState<Order>();
  const [shown, setShown] = useState(FIRST_ROWS);
  const drawn = useMemo(
    (): Column<Row>[] => columns.map((column) => ({ ...column, isSorted: column.sortKey !== undefined })),
    [columns],
  );
  const key = columns.find((column) => column.key === order?.key)?.sortKey;
  const sorted = useMemo(
    () => (key && order ? [...rows].sort(unknownLast(key, order.direction)) : rows),
    [rows, key, order],
  );
  return (
    <>
      <DataTable {...rest} columns={drawn} rows={sorted.slice(0, shown)} order={order} onOrder={setOrder} />
      {sorted.length > shown && (
        <p className="actions mt-8">
          <span className="quiet">{`${shown} of ${sorted.length}`}</span>
          <Button onClick={() => setShown((before) => before + FIRST_ROWS)}>Show more</Button>
        </p>
      )}
    </>
  );
}
