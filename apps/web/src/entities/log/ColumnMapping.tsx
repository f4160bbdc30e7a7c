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
                <UnitSelect column={column} onChange={(unit) => change(k, { ...column, unit })} />
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

function UnitSelect({ column, onChange }: { readonly column: Column; readonly onChange: (unit: UnitName) => void }) {
  const { channel, timeFormat, unit, header } = column;
  if (channel === null || channel === 'date') return null;
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
      onChange={(chosen: UnitName) => onChange(chosen)}
    />
  );
}

const TIME_LABELS = {
  clock: 'h:mm:ss',
  iso: 'date and time',
  'epoch-s': 's since 1970',
  'epoch-ms': 'ms since 1970',
} as const;

/** Questions the mapping does not answer yet. */
export function openQuestions(inspection: Inspection, mapping: MappingDto): Inspection['questions'] {
  return inspection.questions.filter(({ kind, columns }) => {
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
      case 'channel':
        // Left out is an answer: the reader left it out for now.
        return false;
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
