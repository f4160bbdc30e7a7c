import { Button } from 'antd';
import { useCallback, useMemo, useState } from 'react';
import { Link, Navigate, useParams } from 'react-router';
import { partKindSchema, type Part, type PartKind, type PhotoOwner } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { SortedTable, type KeyedColumn } from '../../shared/ui/DataTable.js';
import { FilePicker } from '../../shared/ui/FilePicker.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { QueryView, Problem } from '../../shared/ui/QueryView.js';
import { Page } from '../../shared/ui/Page.js';
import { useOpened } from '../../shared/ui/piece.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import { PhotosDrawer } from '../../entities/photo/index.js';
import {
  BenchPlaces,
  fieldsOf,
  PART_FORMS,
  partForm,
  partValueText,
  useArchivePartMutation,
  useDeletePartMutation,
  useImportPartsMutation,
  useListPartsQuery,
  valueAt,
} from '../../entities/part/index.js';
import { LoggerSecret } from './LoggerSecret.js';

const PHOTO_OWNER: Partial<Record<PartKind, PhotoOwner>> = {
  bikes: 'bike',
  kits: 'kit',
  packs: 'pack',
  chargers: 'charger',
  'add-ons': 'add-on',
};

export default function PartsPage() {
  const { kind } = useParams();
  const parsed = partKindSchema.safeParse(kind);
  return parsed.success ? <PartList key={parsed.data} kind={parsed.data} /> : <Navigate to="/bench/setups" replace />;
}

function PartList({ kind }: { readonly kind: PartKind }) {
  const query = useListPartsQuery(kind);
  const edited = useOpened<Part | 'new'>(partForm);
  const { open } = edited;
  const edit = useCallback((part: Part) => void open(part), [open]);
  const [pictured, setPictured] = useState<Part>();
  const words = PART_FORMS[kind];
  useShortcut('n', `New ${words.one}`, () => void edited.open('new'));
  const owner = PHOTO_OWNER[kind];
  return (
    <Page
      title="Bench"
      actions={
        <>
          <CsvButtons kind={kind} />
          <Button type="primary" onClick={() => void edited.open('new')}>{`New ${words.one}`}</Button>
        </>
      }
    >
      <BenchPlaces />
      <p className="quiet mb-12 max-w-720">{words.teach}</p>
      <QueryView query={query}>
        {(parts) =>
          parts.length === 0 ? (
            <div className="teach">
              <p>{`No ${words.many.toLowerCase()} yet.`}</p>
              <Button
                type="primary"
                onClick={() => void edited.open('new')}
              >{`Add ${/^[aeiou]/.test(words.one) ? 'an' : 'a'} ${words.one}`}</Button>
            </div>
          ) : (
            <PartTable kind={kind} parts={parts} onEdit={edit} onPhotos={PHOTO_OWNER[kind] ? setPictured : undefined} />
          )
        }
      </QueryView>
      {edited.value && (
        <partForm.Part kind={kind} part={edited.value === 'new' ? undefined : edited.value} onDone={edited.close} />
      )}
      {pictured && owner && (
        <PhotosDrawer
          owner={owner}
          ownerId={pictured.id}
          title={pictured.name}
          onClose={() => setPictured(undefined)}
        />
      )}
    </Page>
  );
}

interface TableProps {
  readonly kind: PartKind;
  readonly parts: readonly Part[];
  readonly onEdit: (part: Part) => void;
  readonly onPhotos: ((part: Part) => void) | undefined;
}
function PartTable({ kind, parts, onEdit, onPhotos }: TableProps) {
  const system = useUnits();
  const columns = useMemo(
    (): KeyedColumn<Part>[] => [
      {
        key: 'name',
        title: 'Name',
        width: 220,
        sortKey: ({ name }) => name,
        cell: (part) => (
          <>
            <button type="button" className="figure-button font-inherit align-left" onClick={() => onEdit(part)}>
              {part.name}
            </button>
            {part.archivedAt && <span className="quiet"> (archived)</span>}
            {part.notes && <div className="quiet text-12-5">{part.notes}</div>}
          </>
        ),
      },
      ...fieldsOf(kind)
        .filter(({ isColumn }) => isColumn)
        .map((field): KeyedColumn<Part> => ({
          key: field.name,
          title: field.label,
          isNumber: field.kind !== 'choice',
          sortKey: (part) => sortKey(valueAt(part, field.name)),
          cell: (part) => partValueText(field, valueAt(part, field.name), system),
        })),
      {
        key: 'actions',
        title: <span className="unseen">Actions</span>,
        isNumber: true,
        cell: (part) => <PartActions kind={kind} part={part} onPhotos={onPhotos && (() => onPhotos(part))} />,
      },
    ],
    [kind, system, onEdit, onPhotos],
  );
  return (
    <SortedTable
      label={PART_FORMS[kind].many}
      columns={columns}
      rows={parts}
      idOf={({ id }) => id}
      toneOf={({ archivedAt }) => (archivedAt ? 'quiet' : '')}
    />
  );
}

/** A price goes by its amount. */
function sortKey(value: unknown): number | string | null {
  if (value === null || value === undefined) return null;
  if (typeof value === 'number' || typeof value === 'string') return value;
  const { amount } = value as { amount?: unknown };
  return typeof amount === 'number' ? amount : JSON.stringify(value);
}

function CsvButtons({ kind }: { readonly kind: PartKind }) {
  const [bring, { isLoading, error }] = useImportPartsMutation();
  const notices = useNotices();
  const take = async (file: File): Promise<void> => {
    const { data } = await bring({ kind, file });
    if (data) notices.success(`${data.added} added, ${data.changed} changed, ${data.unchanged} unchanged.`);
  };
  return (
    <>
      <Button href={`/api/bench/${kind}/csv`} download={`${kind}.csv`}>
        Save as CSV
      </Button>
      <FilePicker
        label="Import CSV"
        name="Parts CSV"
        accept=".csv,.txt"
        isLoading={isLoading}
        onFile={(file) => void take(file)}
      />
      {error !== undefined && (
        <div className="basis-full">
          <Problem error={error} />
        </div>
      )}
    </>
  );
}

interface ActionsProps {
  readonly kind: PartKind;
  readonly part: Part;
  readonly onPhotos: (() => void) | undefined;
}
function PartActions({ kind, part, onPhotos }: ActionsProps) {
  const [archive] = useArchivePartMutation();
  const [remove] = useDeletePartMutation();
  const { failure } = useNotices();
  return (
    <span className="actions justify-end inline-flex">
      {kind === 'bikes' && (
        <Link to={`/logbook/bikes/${part.id}`} aria-label={`Life of ${part.name}`}>
          Life
        </Link>
      )}
      {kind === 'loggers' && <LoggerSecret part={part} />}
      {onPhotos && (
        <Button size="small" onClick={onPhotos} aria-label={`Photos of ${part.name}`}>
          Photos
        </Button>
      )}
      <Button
        size="small"
        onClick={() => void archive({ kind, stored: part, archived: part.archivedAt === null }).then(failure)}
      >
        {part.archivedAt ? 'Restore' : 'Archive'}
      </Button>
      {part.archivedAt && (
        <Button size="small" danger onClick={() => void remove({ kind, stored: part }).then(failure)}>
          Delete
        </Button>
      )}
    </span>
  );
}
