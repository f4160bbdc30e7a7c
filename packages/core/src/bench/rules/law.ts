import { isAtMost, verdict, want, withKnown, type Rule } from '../rule.js';
import type { ConvertedSetup } from '../facts.js';
import { amount, say } from '../../units/index.js';

const LOCAL = 'Check your local rules; beyond them, private ground only.';
const chosen = ({ limits }: ConvertedSetup) =>
  want('limits', 'limits', 'a limit profile, picked and checked by you', limits);

/** A rule about the chosen profile; nothing it compares with is asserted as law. */
function lawRule(id: string, title: string, assess: Rule['assess']): Rule {
  return {
    id,
    title,
    group: 'law',
    severity: 'caution',
    basis: `Limits as you noted them. ${LOCAL}`,
    applies: () => true,
    assess,
  };
}

export const LAW_POWER = lawRule('law-power', 'Rated power against the chosen limits', (setup) =>
  withKnown(
    {
      profile: chosen(setup),
      power: want('kit', 'ratedPowerW', 'rated power of the motor', setup.kit.ratedPowerW),
      limit: want('limits', 'maxRatedPowerW', 'highest rated power of the profile', setup.limits?.maxRatedPowerW),
    },
    ({ profile, power, limit }) =>
      verdict(
        isAtMost(power, limit),
        say`motor ${amount(power, 'W')}; “${profile.name}” up to ${amount(limit, 'W')}`,
        say`Above the chosen limit. ${LOCAL}`,
      ),
  ),
);

export const LAW_SPEED = lawRule('law-speed', 'Speed limit against the chosen limits', (setup) =>
  withKnown(
    {
      profile: chosen(setup),
      set: want('settings', 'speedLimitKmh', 'speed limit that is set', setup.settings.speedLimitKmh),
      limit: want('limits', 'maxAssistKmh', 'speed at which assist ends in the profile', setup.limits?.maxAssistKmh),
    },
    ({ profile, set, limit }) =>
      verdict(
        isAtMost(set, limit),
        say`set ${amount(set, 'km/h', 3)}; “${profile.name}” up to ${amount(limit, 'km/h', 3)}`,
        say`Set the limit to ${amount(limit, 'km/h', 3)} on public ground. ${LOCAL}`,
      ),
  ),
);

export const LAW_THROTTLE = lawRule('law-throttle', 'Throttle against the chosen limits', (setup) =>
  withKnown(
    {
      profile: chosen(setup),
      fitted: want('kit', 'throttle', 'whether the kit has a throttle', setup.kit.throttle),
      allowed: want('limits', 'throttle', 'what the profile says of throttles', setup.limits?.throttle),
    },
    ({ profile, fitted, allowed }) =>
      verdict(
        fitted === 'none' || allowed === 'free',
        say`kit: ${fitted === 'none' ? 'no throttle' : `${fitted} throttle`}; “${profile.name}”: ${allowed === 'free' ? 'throttle allowed' : allowed === 'none' ? 'no throttle' : 'for starting only'}`,
        say`Take the throttle off or limit it on public ground. ${LOCAL}`,
      ),
  ),
);

export const LAW_DUTIES: Rule = {
  id: 'law-duties',
  title: 'Rider requirements',
  group: 'law',
  severity: 'caution',
  basis: `Age, helmet and registration as you noted them. ${LOCAL}`,
  applies: ({ limits }) =>
    limits !== null && (limits.minimumAge !== null || limits.helmet === 'needed' || limits.registration === 'needed'),
  assess: ({ limits }) => {
    const { name, minimumAge, helmet, registration } = limits!;
    const duties = [
      minimumAge === null ? '' : `rider of ${minimumAge} years or more`,
      helmet === 'needed' ? 'helmet' : '',
      registration === 'needed' ? 'registration' : '',
    ].filter((duty) => duty !== '');
    return {
      state: 'by-hand',
      arithmetic: say`“${name}” asks for: ${duties.join(', ')}`,
      remedy: say`Deal with each and confirm. ${LOCAL}`,
    };
  },
};
