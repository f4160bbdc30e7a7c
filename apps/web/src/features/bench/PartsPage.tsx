import { Button } from 'antd';
import { useState } from 'react';
import { Navigate, useParams } from 'react-router';
import { partKindSchema, type Part, type PartKind, type PhotoOwner } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { FilePicker } from '../../shared/ui/FilePicker.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { QueryView, Problem } from '../../shared/ui/QueryView.js';
import { Page } from '../../shared/ui/Page.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import { PhotosDrawer } from '../../entities/photo/index.js';
import {
  useArchivePartMutation,
  useDeletePartMutation,
  useImportPartsMutation,
  useListPartsQuery,
} from '../../entities/part/index.js';
import { BenchPlaces } from '../../entities/part/index.js';
import { fieldsOf, PART_FORMS } from '../../entities/part/index.js';
import { partValueText } from '../../entities/part/index.js';
import { PartForm } from '../../entities/part/index.js';
import { valueAt } from '../../entities/part/index.js';

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
  const system = useUnits();
  const query = useListPartsQuery(kind);
  const [edited, setEdited] = useState<Part | 'new'>();
  const [pictured, setPictured] = useState<Part>();
  const words = PART_FORMS[kind];
  useShortcut('n', `New ${words.one}`, () => setEdited('new'));
  const shown = fieldsOf(kind).filter(({ isColumn }) => isColumn);
  const owner = PHOTO_OWNER[kind];
  return (
    <Page
      title="Bench"
      actions={
        <>
          <CsvButtons kind={kind} />
          <Button type="primary" onClick={() => setEdited('new')}>{`New ${words.one}`}</Button>
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
                onClick={() => setEdited('new')}
              >{`Add ${/^[aeiou]/.test(words.one) ? 'an' : 'a'} ${words.one}`}</Button>
            </div>
          ) : (
            <div className="scroll-x">
              <table className="rows">
                <thead>
                  <tr>
                    <th scope="col">Name</th>
                    {shown.map(({ name, label, kind: field }) => (
                      <th scope="col" key={name} className={field === 'choice' ? '' : 'number'}>
                        {label}
                      </th>
                    ))}
                    <th scope="col">
                      <span className="unseen">Actions</span>
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {parts.map((part) => (
                    <tr key={part.id} style={part.archivedAt ? { opacity: 0.6 } : {}}>
                      <td>
                        <button
                          type="button"
                          className="figure-button font-inherit align-left"

                          onClick={() => setEdited(part)}
                        >
                          {part.name}
                        </button>
                        {part.archivedAt && <span className="quiet"> (archived)</span>}
                        {part.notes && <div className="quiet text-12-5">{part.notes}</div>}
                      </td>
                      {shown.map((field) => (
                        <td key={field.name} className={field.kind === 'choice' ? '' : 'number'}>
                          {partValueText(field, valueAt(part, field.name), system)}
                        </td>
                      ))}
                      <td className="align-right nowrap">
                        <PartActions kind={kind} part={part} onPhotos={owner ? () => setPictured(part) : undefined} />
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </div>
          )
        }
      </QueryView>
      {edited && (
        <PartForm kind={kind} part={edited === 'new' ? undefined : edited} onDone={() => setEdited(undefined)} />
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
        <Button size="small" danger onClick={() => void remove({ kind, id: part.id }).then(failure)}>
          Delete
        </Button>
      )}
    </span>
  );
}
