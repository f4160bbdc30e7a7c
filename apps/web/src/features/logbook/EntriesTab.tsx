import { LIFE_KINDS } from '@ebrix/core/life';
import { Select } from 'antd';
import { Link, useSearchParams } from 'react-router';
import { EntryForm, EntryList } from '../../entities/life/index.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { PasteForm } from './PasteForm.js';
import { useSubjects } from './use-subjects.js';

/** New entries at the top, all of them below; which bike and which kind stand in the address. */
export function EntriesTab() {
  const { choices, waiting } = useSubjects();
  const [params, setParams] = useSearchParams();
  const about = params.get('about') ?? '';
  const kind = params.get('kind') ?? '';
  const set = (key: string, value: string | undefined): void =>
    setParams(
      (now) => {
        if (value) now.set(key, value);
        else now.delete(key);
        return now;
      },
      { replace: true },
    );
  if (waiting) return <QueryView query={waiting}>{() => null}</QueryView>;
  if (choices.length === 0)
    return (
      <div className="teach">
        <p>Entries are about a bike. Put a setup together, or write down a conversion that is out of sight.</p>
        <Link to="/bench/setups/new">Put a setup together</Link> ·{' '}
        <Link to="/logbook/conversions">Write down a conversion</Link>
      </div>
    );
  const chosen = choices.find(({ subject }) => `${subject.kind}:${subject.id}` === about);
  // The bike that is looked at is the one that is written of.
  const ordered = chosen ? [chosen, ...choices.filter((one) => one !== chosen)] : choices;
  return (
    <>
      <section className="section" aria-label="Write it down">
        <EntryForm key={about} choices={ordered} />
      </section>
      <PasteForm choices={choices} />
      <section className="section" aria-label="Entries">
        <div className="entry-filters">
          <Select
            aria-label="Which bike"
            allowClear
            showSearch={{ optionFilterProp: 'label' }}
            placeholder="All bikes"
            value={chosen ? about : undefined}
            options={choices.map(({ subject, name }) => ({ value: `${subject.kind}:${subject.id}`, label: name }))}
            onChange={(value: string | undefined) => set('about', value)}
          />
          <Select
            aria-label="Which kind"
            allowClear
            placeholder="All kinds"
            value={kind || undefined}
            options={Object.entries(LIFE_KINDS).map(([value, label]) => ({ value, label }))}
            onChange={(value: string | undefined) => set('kind', value)}
          />
          {chosen?.subject.kind === 'setup' && (
            <Link to={`/bench/setups/${chosen.subject.id}/life`}>Its whole life</Link>
          )}
          {chosen?.subject.kind === 'conversion' && (
            <Link to={`/logbook/conversions/${chosen.subject.id}`}>Its whole life</Link>
          )}
        </div>
        <EntryList
          key={`${about}|${kind}`}
          {...(chosen && { subject: chosen.subject })}
          {...(kind && { kind })}
          choices={choices}
        />
      </section>
    </>
  );
}
