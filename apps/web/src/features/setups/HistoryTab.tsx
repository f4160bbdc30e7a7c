import { Link } from 'react-router';
import type { RevisionDetail, SetupDetail } from '@ebrix/contract';
import { ObjectHistory } from '../../entities/account/index.js';
import { useUnits } from '../../shared/preferences/index.js';
import { revisionDifferences } from './compose-values.js';
import { factsOf } from '../../entities/setup/index.js';

/** Revisions: what changed, when, why, and which runs stand on which. */
export function HistoryTab({ setup }: { readonly setup: SetupDetail }) {
  return (
    <>
      <p className="quiet mb-12">
        A run always belongs to the revision it was ridden with. Changing a part makes a new revision, whose safety
        checks start afresh; editing a part later does not rewrite what was ridden.
      </p>
      <div className="scroll-x">
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Revision</th>
              <th scope="col">Change and reason</th>
              <th scope="col">Difference from the revision before</th>
              <th scope="col">Saved</th>
              <th scope="col" className="number">
                Runs
              </th>
            </tr>
          </thead>
          <tbody>
            {setup.revisions.map((revision, k) => (
              <tr key={revision.id}>
                <td className="figures">{revision.number}</td>
                <td>
                  {revision.change}
                  {revision.why && <div className="quiet">{revision.why}</div>}
                </td>
                <td>
                  <Changes revision={revision} before={setup.revisions[k + 1]} />
                </td>
                <td className="nowrap">{new Date(revision.createdAt).toLocaleDateString()}</td>
                <td className="number">
                  <Link to={`/runs?revision=${revision.id}`}>{revision.runCount}</Link>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <ObjectHistory ids={[setup.id, ...setup.revisions.map(({ id }) => id)]} />
    </>
  );
}

function Changes({
  revision,
  before,
}: {
  readonly revision: RevisionDetail;
  readonly before: RevisionDetail | undefined;
}) {
  const system = useUnits();
  if (!before) return <span className="quiet">the first</span>;
  const rows = revisionDifferences(before, factsOf(revision), system);
  if (rows.length === 0) return <span className="quiet">same choices; parts as they were that day</span>;
  return (
    <>
      {rows.map(({ label, theirs, mine }) => (
        <div key={label}>
          {label}: {theirs} → {mine}
        </div>
      ))}
    </>
  );
}
