import { Button } from 'antd';
import { Link } from 'react-router';
import type { DueList } from '@ebrix/contract';
import { DueRows, useDueEverywhereQuery } from '../../entities/life/index.js';
import { QueryView } from '../../shared/ui/QueryView.js';

const CALENDAR = '/api/logbook/service.ics';

/** What is due, bike by bike, to print, and as a calendar. */
export function DueTab() {
  const query = useDueEverywhereQuery();
  return (
    <QueryView query={query}>
      {(list) => (
        <>
          <div className="actions no-print mb-12">
            <Button onClick={() => print()} disabled={list.length === 0}>
              Print the list
            </Button>
            <a href={CALENDAR} download>
              Save as a calendar (.ics)
            </a>
            <span className="quiet">
              Or let your calendar fetch <code>{new URL(CALENDAR, location.origin).href}</code> now and then.
            </span>
          </div>
          {list.length === 0 ? (
            <div className="teach">
              <p>Nothing is due. What is due follows from kilometres and days: write down what the odometers show.</p>
              <Link to="/logbook/entries">To the entries</Link>
            </div>
          ) : (
            <>
              <p className="quiet">
                Intervals are usual ones, or yours. What your makers and your local rules ask for goes first; brakes,
                axles and wiring are for those who know how.
              </p>
              {list.map((one) => (
                <DueOf key={one.subject.id} one={one} />
              ))}
            </>
          )}
        </>
      )}
    </QueryView>
  );
}

function DueOf({ one: { subject, name, due, followUps } }: { readonly one: DueList[number] }) {
  const to = subject.kind === 'setup' ? `/bench/setups/${subject.id}/life` : `/logbook/conversions/${subject.id}`;
  return (
    <section className="section" aria-label={name}>
      <h2 className="mb-8">
        <Link to={to}>{name}</Link>
      </h2>
      {followUps.length > 0 && (
        <p>
          To be asked: {followUps.map(({ stage }) => stage.label.toLowerCase()).join(', ')}.{' '}
          <Link className="no-print" to={to}>
            Ask now
          </Link>
        </p>
      )}
      {due.length > 0 && <DueRows subject={subject} due={due} />}
    </section>
  );
}
