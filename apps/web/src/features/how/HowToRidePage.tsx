import { HOW_TO_RIDE, TEST_KIND_NAMES, TEST_KINDS, type TestKind } from '@ebrix/core/analysis';
import { Button } from 'antd';
import { Link, Navigate, NavLink, useParams } from 'react-router';
import { useShortcut } from '../../shared/shortcuts/index.js';
import { Page } from '../../shared/ui/Page.js';

/** One short page for each kind of test: what it answers, what it needs, how it is ridden, what goes wrong. */
export default function HowToRidePage() {
  const { kind = '' } = useParams();
  useShortcut('p', 'Print this page', () => window.print());
  if (!TEST_KIND_NAMES.includes(kind as TestKind)) return <Navigate to="/how/range" replace />;
  const { answers, withLogger, withoutLogger, steps, note, mistakes, cautions } = HOW_TO_RIDE[kind as TestKind];
  return (
    <Page
      title={`How to ride it: ${TEST_KINDS[kind as TestKind].label.toLowerCase()}`}
      crumb={<Link to="/ride">Ride</Link>}
      actions={
        <Button type="primary" onClick={() => window.print()}>
          Print
        </Button>
      }
    >
      <nav className="choice mb-16 no-print" aria-label="Kinds of test">
        {TEST_KIND_NAMES.map((name) => (
          <NavLink key={name} to={`/how/${name}`} className={({ isActive }) => (isActive ? 'here' : '')}>
            {TEST_KINDS[name].label}
          </NavLink>
        ))}
      </nav>
      <div className="sheet max-w-860">
        <p className="text-16">{answers}</p>
        <h2 className="mt-16 mb-6">Before you set off</h2>
        <ul className="m-0 pl-18">
          {cautions.map((caution) => (
            <li key={caution}>
              <strong>{caution}</strong>
            </li>
          ))}
        </ul>
        <h2 className="mt-16 mb-6">What you need</h2>
        <dl className="facts">
          <dt>With a logger</dt>
          <dd>{withLogger}</dd>
          <dt>Without one</dt>
          <dd>{withoutLogger}</dd>
        </dl>
        <h2 className="mt-16 mb-6">Step by step</h2>
        <ol className="m-0 pl-18">
          {steps.map((step) => (
            <li key={step}>{step}</li>
          ))}
        </ol>
        <h2 className="mt-16 mb-6">Write down</h2>
        <ul className="m-0 pl-18">
          {note.map((one) => (
            <li key={one}>{one}</li>
          ))}
        </ul>
        <h2 className="mt-16 mb-6">What goes wrong, and how it shows</h2>
        <ul className="m-0 pl-18">
          {mistakes.map(([mistake, noticed]) => (
            <li key={mistake}>
              {mistake}: <span className="quiet">{noticed}.</span>
            </li>
          ))}
        </ul>
      </div>
    </Page>
  );
}
