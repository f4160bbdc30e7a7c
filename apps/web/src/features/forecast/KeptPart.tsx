import { Button, Popconfirm, Select } from 'antd';
import { Link } from 'react-router';
import type { KeptForecast } from '@ebrix/contract';
import { useListRunsQuery } from '../../entities/run/index.js';
import { formatDay } from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { useDeleteForecastMutation, useListForecastsQuery, useSetAgainstRideMutation } from './api.js';
import { showSpan, spanText } from './figure-text.js';

/** Forecasts that were kept, and how those did that were ridden. */
export function KeptPart() {
  const kept = useListForecastsQuery();
  return (
    <QueryView query={kept}>
      {(list) =>
        list.length === 0 ? (
          <p className="quiet">Nothing is kept yet. A kept forecast is set against the ride once it was ridden.</p>
        ) : (
          <>
            <Record list={list} />
            <ul className="kept">
              {list.map((forecast) => (
                <KeptRow key={forecast.id} kept={forecast} />
              ))}
            </ul>
          </>
        )
      }
    </QueryView>
  );
}

/** How those did that were ridden: the plainest measure of trust. */
function Record({ list }: { readonly list: readonly KeptForecast[] }) {
  const figures = list.flatMap(({ ridden }) => ridden?.figures ?? []);
  if (figures.length === 0) return null;
  const inside = figures.filter(({ isInside }) => isInside).length;
  return (
    <p className="quiet">
      Of {figures.length} {figures.length === 1 ? 'figure' : 'figures'} kept and ridden since, {inside} came out inside
      the span; of a hundred, some 95 should.
    </p>
  );
}

const SHOWN = ['time', 'energyOut', 'netConsumption', 'motorTemperaturePeak', 'minSpeed', 'rangeWithReserve'];

function KeptRow({ kept }: { readonly kept: KeptForecast }) {
  const system = useUnits();
  const notices = useNotices();
  const [setAgainst, { isLoading }] = useSetAgainstRideMutation();
  const [remove] = useDeleteForecastMutation();
  const runs = useListRunsQuery(`setup=${kept.setupId}&pageSize=100`);
  const against = async (runId: string | null): Promise<void> => {
    notices.failure(await setAgainst({ stored: kept, runId }));
  };
  const shown = kept.figures.filter(({ key }) => SHOWN.includes(key));
  return (
    <li>
      <div className="kept-head">
        <Link to={`/forecast?${kept.question.address}`}>
          <strong>{kept.title}</strong>
        </Link>
        <span className="quiet">
          {kept.setupName}, {formatDay(kept.at.slice(0, 10))}
        </span>
        <Popconfirm
          title="Delete this forecast?"
          okText="Delete"
          cancelText="Keep it"
          onConfirm={() => void remove(kept).then(notices.failure)}
        >
          <Button size="small" aria-label={`Delete ${kept.title}`}>
            Delete
          </Button>
        </Popconfirm>
      </div>
      <p>{shown.map((figure) => `${figure.label} ${spanText(figure, system)}`).join(', ')}.</p>
      {kept.ridden ? (
        <div className="kept-ridden">
          <p>
            Ridden on {formatDay(kept.ridden.date)}: <Link to={`/runs/${kept.ridden.runId}`}>{kept.ridden.name}</Link>
          </p>
          {kept.ridden.figures.length === 0 && <p className="quiet">That run has none of these figures.</p>}
          <ul className="plain">
            {kept.ridden.figures.map(({ key, value, interval95, isInside }) => {
              const figure = kept.figures.find((one) => one.key === key)!;
              const { value: text, unit } = showSpan({ ...figure, value, interval95 }, system);
              return (
                <li key={key}>
                  {figure.label} {text} {unit}: {isInside ? 'inside its span' : <strong>outside its span</strong>}
                </li>
              );
            })}
          </ul>
          <Button size="small" onClick={() => void against(null)}>
            Take the ride away
          </Button>
        </div>
      ) : (
        <label className="kept-choice">
          <span className="quiet">Set against a ride</span>
          <Select
            loading={isLoading}
            showSearch
            optionFilterProp="label"
            placeholder="Choose the run"
            aria-label={`Ride of ${kept.title}`}
            options={(runs.data?.items ?? []).map(({ id, course, outing, fileName }) => ({
              value: id,
              label: `${course.name}, ${formatDay(outing.date)}, ${fileName}`,
            }))}
            onChange={(runId: string) => void against(runId)}
          />
        </label>
      )}
    </li>
  );
}
