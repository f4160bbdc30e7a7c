import { Select } from 'antd';
import type { Inspection, MappingDto } from '@ebrix/contract';
import { CHANNELS, CHANNEL_NAMES, channelDefinition, type ChannelName } from '@ebrix/core/logs';
import type { UnitName } from '@ebrix/core/units';

interface Props {
  readonly inspection: Inspection;
  readonly mapping: MappingDto;
  readonly onChange: (mapping: MappingDto) => void;
}
type Column = MappingDto['columns'][number];

const TIME_UNITS: readonly UnitName[] = ['s', 'ms', 'min', 'h'];
const CHANNEL_CHOICES = [
  { value: '', label: 'not used' },
  { value: 'time', label: 'time' },
  { value: 'date', label: 'date' },
  ...CHANNEL_NAMES.map((name) => ({ value: name, label: CHANNELS[name].label })),
];

/** What each column of a table was taken for, with its first values; each can be put right. */
export function ColumnMapping({ inspection, mapping, onChange }: Props) {
  const openColumns = new Set(openQuestions(inspection, mapping).flatMap(({ columns }) => columns));
  const change = (index: number, column: Column): void =>
    onChange({ ...mapping, columns: mapping.columns.map((known, k) => (k === index ? column : known)) });
  return (
    <div className="scroll-x" tabIndex={0} role="region" aria-label="Columns of the file">
      <table className="rows">
        <thead>
          <tr>
            <th scope="col">Column in the file</th>
            <th scope="col">First values</th>
            <th scope="col">Read as</th>
            <th scope="col">Unit</th>
          </tr>
        </thead>
        <tbody>
          {mapping.columns.map((column, k) => (
            <tr key={k} style={openColumns.has(k) ? { boxShadow: 'inset 4px 0 0 var(--caution)' } : {}}>
              <td className="pl-10">{column.header || <span className="quiet">(no name)</span>}</td>
              <td className="figures quiet">
                {inspection.preview
                  .slice(0, 3)
                  .map((row) => row[k] ?? '')
                  .join('  ')}
              </td>
              <td>
                <Select
                  aria-label={`${column.header} is`}
                  size="small"
                  className="w-170"
                  value={column.channel ?? ''}
                  options={CHANNEL_CHOICES}
                  showSearch={{ optionFilterProp: 'label' }}
                  onChange={(channel) => change(k, withChannel(column, channel))}
                />
              </td>
              <td>
                <span className="actions">
                  <UnitSelect
                    column={column}
                    isDateOpen={isDateQuestion(inspection, k)}
                    onChange={(to) => change(k, { ...column, ...to })}
                  />
                  <SignSelect column={column} onChange={(to) => change(k, to)} />
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function withChannel(column: Column, channel: string): Column {
  const { header } = column;
  if (channel === '') return { header, channel: null };
  if (channel === 'time' || channel === 'date')
    return { header, channel, ...(channel === 'time' && { timeFormat: column.timeFormat ?? 'number' }) };
  const name = channel as ChannelName;
  const { impliedUnit } = channelDefinition(name);
  return { header, channel: name, ...(impliedUnit && { unit: impliedUnit }) };
}

interface UnitProps {
  readonly column: Column;
  /** The order of day and month was asked about. */
  readonly isDateOpen: boolean;
  readonly onChange: (to: Partial<Column>) => void;
}
function UnitSelect({ column, isDateOpen, onChange }: UnitProps) {
  const { channel, timeFormat, unit, header } = column;
  if (channel === null || channel === 'date') return null;
  if (channel === 'time' && isDateOpen)
    return (
      <Select
        aria-label={`Order of the date in ${header}`}
        size="small"
        className="w-170"
        value={timeFormat === 'dmy' || timeFormat === 'mdy' ? timeFormat : null}
        placeholder="?"
        status={timeFormat ? '' : 'warning'}
        options={DATE_ORDERS.map((order) => ({ value: order, label: TIME_LABELS[order] }))}
        onChange={(chosen: (typeof DATE_ORDERS)[number]) => onChange({ timeFormat: chosen })}
      />
    );
  if (channel === 'time' && timeFormat && timeFormat !== 'number')
    return <span className="quiet">{TIME_LABELS[timeFormat]}</span>;
  const units = channel === 'time' ? TIME_UNITS : channelDefinition(channel).units;
  return (
    <Select
      aria-label={`Unit of ${header}`}
      size="small"
      className="w-90"
      value={unit ?? null}
      placeholder="?"
      status={unit ? '' : 'warning'}
      options={units.map((one) => ({ value: one, label: one === '1' ? '0 … 1' : one }))}
      onChange={(chosen: UnitName) => onChange({ unit: chosen })}
    />
  );
}

const DATE_ORDERS = ['dmy', 'mdy'] as const;
const SIGNS = [
  { value: 0, label: 'sign by the log' },
  { value: 1, label: 'discharge is +' },
  { value: -1, label: 'discharge is −' },
];
/** Of a current or power: which sign discharge has, where the log is not to decide it. */
function SignSelect({ column, onChange }: { readonly column: Column; readonly onChange: (to: Column) => void }) {
  if (column.channel !== 'current' && column.channel !== 'power') return null;
  return (
    <Select
      aria-label={`Sign of ${column.header}`}
      size="small"
      className="w-170"
      value={column.sign ?? 0}
      options={SIGNS}
      onChange={(chosen: number) => {
        const { sign: _sign, ...rest } = column;
        onChange(chosen === 0 ? rest : { ...rest, sign: chosen as 1 | -1 });
      }}
    />
  );
}
function isDateQuestion({ questions }: Inspection, index: number): boolean {
  return questions.some(({ kind, columns }) => kind === 'date-order' && columns.includes(index));
}

const TIME_LABELS = {
  clock: 'h:mm:ss',
  'clock-hm': 'h:mm, many rows a minute',
  iso: 'date and time',
  dmy: 'day, month, year',
  mdy: 'month, day, year',
  'epoch-s': 's since 1970',
  'epoch-ms': 'ms since 1970',
} as const;

/** Questions the mapping does not answer yet. */
export function openQuestions(inspection: Inspection, mapping: MappingDto): Inspection['questions'] {
  return inspection.questions.filter(({ kind, columns, blocking }) => {
    const concerned = columns.map((k) => mapping.columns[k]!);
    switch (kind) {
      case 'decimal':
        return mapping.decimal === undefined;
      case 'duplicate': {
        const channels = concerned.map(({ channel }) => channel).filter((channel) => channel !== null);
        return new Set(channels).size < channels.length;
      }
      case 'unit':
        return concerned.some(
          ({ channel, unit, timeFormat }) =>
            channel !== null && unit === undefined && (timeFormat === undefined || timeFormat === 'number'),
        );
      case 'date-order':
        return concerned.some(({ channel, timeFormat }) => channel === 'time' && timeFormat === undefined);
      case 'sign':
        return concerned.some(({ channel, sign }) => channel !== null && sign === undefined);
      case 'channel':
        // Left out is an answer where nothing hangs on it: the reader left it out for now.
        return blocking && concerned.every(({ channel }) => channel === null);
    }
  });
}

/** A mapping as it is sent: columns whose unit is still open and which no figure needs are left out. */
export function resolvedMapping(inspection: Inspection, mapping: MappingDto): MappingDto {
  const open = new Set(
    openQuestions(inspection, mapping)
      .filter(({ blocking }) => !blocking)
      .flatMap(({ columns }) => columns),
  );
  return {
    ...mapping,
    columns: mapping.columns.map((column, k) => (open.has(k) ? { header: column.header, channel: null } : column)),
  };
}
