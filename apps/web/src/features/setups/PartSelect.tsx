import { Form, Select } from 'antd';
import { useMemo } from 'react';
import type { Part, PartKind } from '@ebrix/contract';
import { partForm, useListPartsQuery } from '../../entities/part/index.js';
import { useOpened } from '../../shared/ui/piece.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import type { ComposeValues } from './compose-values.js';
import { NO_KIT, NO_KIT_ID } from './facts.js';

/** Parts by kind, as far as they are loaded. */
export type Stock = { readonly [K in PartKind]?: readonly Part[] | undefined };
export function useStock(): Stock {
  const bikes = useListPartsQuery('bikes').data;
  const kits = useListPartsQuery('kits').data;
  const packs = useListPartsQuery('packs').data;
  const chargers = useListPartsQuery('chargers').data;
  const addOns = useListPartsQuery('add-ons').data;
  const limits = useListPartsQuery('limits').data;
  return useMemo(
    () => ({ bikes, kits, packs, chargers, 'add-ons': addOns, limits }),
    [bikes, kits, packs, chargers, addOns, limits],
  );
}

interface SelectProps {
  readonly form: ReturnType<typeof Form.useForm<ComposeValues>>[0];
  readonly kind: PartKind;
  readonly name: 'addOnIds' | 'bikeId' | 'chargerId' | 'kitId' | 'limitsId' | 'packIds';
  readonly label: string;
  readonly stock: Stock;
  readonly isMultiple?: boolean;
  readonly extra?: string;
}

/** Choice of parts; a part can be added or opened on the spot. */
export function PartSelect({ form, kind, name, label, stock, isMultiple = false, extra }: SelectProps) {
  const edited = useOpened<Part | 'new'>(partForm);
  const parts = stock[kind] ?? [];
  const query = useListPartsQuery(kind);
  const chosen: string | string[] | null | undefined = Form.useWatch(name, form);
  const ids = Array.isArray(chosen) ? chosen : chosen ? [chosen] : [];
  const chosenParts = parts.filter(({ id }) => ids.includes(id));
  return (
    <>
      {/* Without its list the choice would show no names, and the sums would leave out what is chosen. */}
      {query.error !== undefined && <QueryView query={query}>{() => null}</QueryView>}
      <Form.Item
        name={name}
        label={label}
        extra={
          <span className="actions">
            {chosenParts.map((part) => (
              <button
                key={part.id}
                type="button"
                className="text-button"
                aria-label={`Open ${part.name}`}
                onClick={() => void edited.open(part)}
              >
                {isMultiple ? `Open ${part.name}` : 'Open it'}
              </button>
            ))}
            <button type="button" className="text-button" onClick={() => void edited.open('new')}>
              Add a new one
            </button>
            {extra && <span>{extra}</span>}
          </span>
        }
      >
        <Select
          {...(isMultiple ? { mode: 'multiple' as const } : { allowClear: kind !== 'bikes' && kind !== 'kits' })}
          showSearch={{ optionFilterProp: 'label' }}
          options={[
            ...parts
              .filter(({ archivedAt, id }) => archivedAt === null || ids.includes(id))
              .map((part) => ({ value: part.id, label: part.name })),
            ...(kind === 'kits' ? [{ value: NO_KIT_ID, label: NO_KIT }] : []),
          ]}
          notFoundContent="None yet: add one below."
        />
      </Form.Item>
      {edited.value && (
        <partForm.Part
          kind={kind}
          part={edited.value === 'new' ? undefined : edited.value}
          onDone={(saved) => {
            edited.close();
            if (saved && edited.value === 'new') form.setFieldValue(name, isMultiple ? [...ids, saved.id] : saved.id);
          }}
        />
      )}
    </>
  );
}
