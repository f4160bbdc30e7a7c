import { NavLink } from 'react-router';
import { PART_KINDS } from '@ebrix/contract';
import { PART_FORMS } from './part-fields.js';

/** What lies on the bench: setups first, then the parts they are put together from. */
export function BenchPlaces() {
  return (
    <nav className="choice mb-16 flex-wrap" aria-label="Kinds of parts">
      {(['setups', ...PART_KINDS] as const).map((kind) => (
        <NavLink key={kind} to={`/bench/${kind}`} className={({ isActive }) => (isActive ? 'here' : '')}>
          {kind === 'setups' ? 'Setups' : PART_FORMS[kind].many}
        </NavLink>
      ))}
    </nav>
  );
}
