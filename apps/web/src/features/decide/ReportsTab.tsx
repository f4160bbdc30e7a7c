import { Button } from 'antd';
import { Link, useNavigate } from 'react-router';
import type { Report } from '@ebrix/contract';
import { QueryView } from '../../shared/ui/QueryView.js';
import { useListReportsQuery } from './api.js';
import { ReportEditor } from './ReportEditor.js';

/** Issued reports, and one being put together. */
export function ReportsTab({ id }: { readonly id: string | undefined }) {
  const query = useListReportsQuery();
  return (
    <QueryView query={query}>
      {(reports) =>
        id === undefined ? (
          <Issued reports={reports} />
        ) : (
          <ReportEditor key={id} follows={reports.find((report) => report.id === id)} />
        )
      }
    </QueryView>
  );
}

function Issued({ reports }: { readonly reports: readonly Report[] }) {
  const navigate = useNavigate();
  return (
    <>
      <p className="mt-12">
        <Button type="primary" onClick={() => void navigate('/decide/reports/new')}>
          New report
        </Button>
      </p>
      {reports.length === 0 ? (
        <div className="teach mt-12">
          <p>
            No report yet. A report puts question, answer, setups, costs and cautions on one page for a customer, and
            every run and method behind it for those who doubt. Once issued it stays as it is.
          </p>
        </div>
      ) : (
        <div className="scroll-x mt-12">
          <table className="rows">
            <thead>
              <tr>
                <th scope="col">Report</th>
                <th scope="col">Title</th>
                <th scope="col">Form</th>
                <th scope="col">Issued</th>
                <th scope="col">Changed lines</th>
                <th scope="col">
                  <span className="unseen">What can be done</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {reports.map(({ id, number, version, title, form, at, by, changes }) => (
                <tr key={id}>
                  <td className="figures nowrap">
                    {number}, version {version}
                  </td>
                  <td>
                    <a href={`/api/reports/${id}/html`} target="_blank" rel="noreferrer">
                      {title}
                    </a>
                  </td>
                  <td>{form}</td>
                  <td>
                    {at.slice(0, 10)}, {by}
                  </td>
                  <td className="figures">{version === 1 ? '–' : changes.length}</td>
                  <td className="nowrap">
                    <a href={`/api/reports/${id}/html`} download={`report-${number}-${version}.html`}>
                      Save as HTML
                    </a>{' '}
                    · <Link to={`/decide/reports/${id}`}>New version</Link>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </>
  );
}
