import {
  FAULT_EFFECTS,
  FOLLOW_UP_KEYS,
  FOLLOW_UP_SCALES,
  LIFE_PARTS,
  REPLACED_BECAUSE,
  wearOf,
} from '@ebrix/core/life';
import type { UnitSystem } from '@ebrix/core/units';
import type { EntryDetails } from '@ebrix/contract';
import { formatQuantity, plain } from '../../shared/format/format-quantity.js';

/** What an entry says, in one line. */
export function entryWords(details: EntryDetails, system: UnitSystem): string {
  switch (details.kind) {
    case 'odometer': {
      const km = formatQuantity(details.km, 'km', system, 5);
      if (details.way === 'trip') return `${km} ridden`;
      if (details.way === 'reading') return `shows ${km}`;
      const factor = details.wheelFactor === null ? '' : `, shown × ${plain(details.wheelFactor, 4)} is true`;
      return `counts otherwise from here, shows ${km}${factor}`;
    }
    case 'charge':
      return joined([
        details.extent === 'full' ? 'to full' : 'in part',
        details.kWh === null ? '' : `${plain(details.kWh, 3)} kWh at the socket`,
        details.hours === null ? '' : `${plain(details.hours, 2)} h`,
      ]);
    case 'fault':
      return joined([
        `${LIFE_PARTS[details.part].label}: ${details.words || 'no words'}`,
        FAULT_EFFECTS[details.effect].toLowerCase(),
        details.daysOff ? `${plain(details.daysOff, 3)} days off the road` : '',
        details.cause && `cause: ${details.cause}`,
        details.cure && `cured by: ${details.cure}`,
        details.underWarranty ? 'under warranty' : '',
      ]);
    case 'replacement':
      return joined([
        `${LIFE_PARTS[details.part].label}, ${REPLACED_BECAUSE[details.why].toLowerCase()}`,
        details.words,
      ]);
    case 'service':
      return joined([
        details.items.length > 0
          ? `${details.items.length} ${details.items.length === 1 ? 'thing' : 'things'} done`
          : '',
        details.words,
      ]);
    case 'inspection': {
      const measure = wearOf(details.part);
      return joined([
        LIFE_PARTS[details.part].label,
        details.value === null
          ? ''
          : measure
            ? measure.says.replace('#', `${plain(details.value, 3)} ${measure.unit}`)
            : plain(details.value, 3),
        details.isFine ? 'fine' : 'not fine',
        details.words,
      ]);
    }
    case 'follow-up':
      return joined([
        ...FOLLOW_UP_KEYS.flatMap((key) =>
          details.answers[key] === undefined
            ? []
            : `${FOLLOW_UP_SCALES[key].label.toLowerCase()} ${details.answers[key]}`,
        ),
        details.changed && `changed: ${details.changed}`,
        details.words,
      ]);
    case 'fitted':
      return joined([details.use && `for ${details.use}`, details.words]);
    case 'accident':
    case 'note':
    case 'taken-off':
      return details.words;
  }
}

function joined(parts: readonly (string | undefined)[]): string {
  return parts.filter((part) => part).join(', ');
}
