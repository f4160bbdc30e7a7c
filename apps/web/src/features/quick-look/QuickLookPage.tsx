import { NavLink, useParams } from 'react-router';
import { Page } from '../../shared/ui/Page.js';
import { looks } from './looks.js';

export default function QuickLookPage() {
  const { what = '' } = useParams();
  const { Part: Look } = Object.hasOwn(looks, what) ? looks[what as keyof typeof looks] : looks.log;
  return (
    <Page title="Quick look">
      <p className="quiet mb-12">Nothing is stored. Close the page and it is gone.</p>
      <nav className="choice mb-16" aria-label="What to open">
        <NavLink to="/quick-look/log" className={({ isActive }) => (isActive ? 'here' : '')}>
          A ride's log
        </NavLink>
        <NavLink to="/quick-look/table" className={({ isActive }) => (isActive ? 'here' : '')}>
          A table of results
        </NavLink>
        <NavLink to="/quick-look/compare" className={({ isActive }) => (isActive ? 'here' : '')}>
          Compare rides
        </NavLink>
      </nav>
      <Look />
    </Page>
  );
}
