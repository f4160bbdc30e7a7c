import type { FollowUpKey } from './follow-ups.js';
import type { FaultEffect, LifePartKey } from './parts.js';

/** Why a part was put in anew; worn and failed end its life. */
export const REPLACED_BECAUSE = {
  worn: 'Worn out',
  failed: 'Failed',
  upgrade: 'For something better',
  precaution: 'As a precaution',
} as const;
export type ReplacedBecause = keyof typeof REPLACED_BECAUSE;

/** What is written down of a bike in use, by kind. Units: km, kWh, h, the part's own of a reading. */
export type LifeDetails =
  | { readonly kind: 'accident'; readonly words: string }
  | {
      readonly kind: 'charge';
      readonly kWh: number | null;
      readonly hours: number | null;
      readonly extent: 'full' | 'part';
    }
  | {
      readonly kind: 'fault';
      readonly part: LifePartKey;
      /** From the bench's list; null: own words alone. */
      readonly symptom: string | null;
      readonly words: string;
      readonly effect: FaultEffect;
      readonly daysOff: number | null;
      readonly cause: string;
      readonly cure: string;
      readonly underWarranty: boolean;
    }
  | { readonly kind: 'fitted'; readonly use: string; readonly words: string }
  | {
      readonly kind: 'follow-up';
      readonly stage: string;
      readonly answers: Readonly<Partial<Record<FollowUpKey, number>>>;
      readonly changed: string;
      readonly words: string;
    }
  | {
      readonly kind: 'inspection';
      readonly part: LifePartKey;
      readonly value: number | null;
      readonly isFine: boolean;
      readonly words: string;
    }
  | { readonly kind: 'note'; readonly words: string }
  | {
      readonly kind: 'odometer';
      readonly way: 'reading' | 'rebase' | 'trip';
      readonly km: number;
      readonly wheelFactor: number | null;
    }
  | { readonly kind: 'replacement'; readonly part: LifePartKey; readonly why: ReplacedBecause; readonly words: string }
  | { readonly kind: 'service'; readonly items: readonly string[]; readonly words: string }
  | { readonly kind: 'taken-off'; readonly words: string };
export type LifeKind = LifeDetails['kind'];

export const LIFE_KINDS = {
  odometer: 'Odometer',
  charge: 'Charge',
  fault: 'Fault',
  replacement: 'Part replaced',
  service: 'Service',
  inspection: 'Inspection',
  accident: 'Accident',
  'follow-up': 'Follow-up',
  note: 'Note',
  fitted: 'Kit fitted',
  'taken-off': 'Kit taken off',
} as const satisfies Record<LifeKind, string>;

export interface LifeEntry {
  readonly id: string;
  readonly day: string;
  /** As the display showed it then; null where nobody looked. */
  readonly odometerKm: number | null;
  readonly details: LifeDetails;
}
