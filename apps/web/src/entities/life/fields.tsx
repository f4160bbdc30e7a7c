import type { ReactNode } from 'react';

/** A label over its field. `for`: the id of a field that does not name itself. */
export function Labelled({
  label,
  for: field,
  isWide = false,
  children,
}: {
  readonly label: string;
  readonly for?: string;
  readonly isWide?: boolean;
  readonly children: ReactNode;
}) {
  return (
    <div className={isWide ? 'entry-field wide' : 'entry-field'}>
      {field === undefined ? <span aria-hidden="true">{label}</span> : <label htmlFor={field}>{label}</label>}
      {children}
    </div>
  );
}

/** The browser's own list: on a phone it opens as the phone's own wheel. */
export function PlainSelect({
  label,
  value,
  options,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  readonly options: readonly { readonly value: string; readonly label: string }[];
  readonly onChange: (value: string) => void;
}) {
  return (
    <Labelled label={label}>
      <select
        aria-label={label}
        className="plain-select"
        value={value}
        onChange={({ target }) => onChange(target.value)}
      >
        {options.map((one) => (
          <option key={one.value} value={one.value}>
            {one.label}
          </option>
        ))}
      </select>
    </Labelled>
  );
}
