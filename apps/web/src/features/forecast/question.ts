import type { SetupCalibration } from '@ebrix/contract';

/** What is asked, as the address carries it; undefined is what the setup usually does. SI but km/h, °C and shares. */
export interface Question {
  readonly setups: readonly string[];
  /** Id of a course; `slope` for a length and a grade; `file` for a way that was dropped here and lives in this window alone. */
  readonly course: string;
  readonly isBack: boolean;
  /** Out to the end of the way and home again. */
  readonly isReturn: boolean;
  readonly lengthM: number;
  readonly grade: number;
  readonly totalMassKg: number | undefined;
  readonly riderPowerW: number | undefined;
  readonly targetSpeedKmh: number | undefined;
  readonly level: number | undefined;
  readonly startShare: number;
  readonly reserveShare: number;
  readonly airTemperatureC: number;
  readonly wind: WindStrength;
  readonly windFrom: WindFrom;
  readonly stopsPerKm: number;
  readonly hasSecondPack: boolean;
  readonly secondAh: number | undefined;
  readonly secondKg: number | undefined;
  /** Both packs at once, or the second when the first is empty. */
  readonly secondUse: SecondUse;
}
export type SecondUse = 'together' | 'in turn';

/** At the height of a rider, m/s. */
export const WINDS = {
  calm: { label: 'Calm', mps: 0 },
  light: { label: 'Light', mps: 2 },
  fresh: { label: 'Fresh', mps: 4.5 },
} as const;
export type WindStrength = keyof typeof WINDS;
/** Degrees clockwise from where the way sets out. */
export const WIND_FROM = {
  ahead: { label: 'from ahead', deg: 0 },
  right: { label: 'from the right', deg: 90 },
  behind: { label: 'from behind', deg: 180 },
  left: { label: 'from the left', deg: 270 },
} as const;
/** Degrees clockwise from north, for a way whose place is known. */
export const COMPASS = {
  n: { label: 'from the north', deg: 0 },
  ne: { label: 'from the north-east', deg: 45 },
  e: { label: 'from the east', deg: 90 },
  se: { label: 'from the south-east', deg: 135 },
  s: { label: 'from the south', deg: 180 },
  sw: { label: 'from the south-west', deg: 225 },
  w: { label: 'from the west', deg: 270 },
  nw: { label: 'from the north-west', deg: 315 },
} as const;
export type WindFrom = keyof typeof COMPASS | keyof typeof WIND_FROM;

export const MOST_SETUPS = 3;
const USUAL: Omit<Question, 'setups' | 'course'> = {
  isBack: false,
  isReturn: false,
  lengthM: 1000,
  grade: 0.06,
  totalMassKg: undefined,
  riderPowerW: undefined,
  targetSpeedKmh: undefined,
  level: undefined,
  startShare: 1,
  reserveShare: 0.1,
  airTemperatureC: 15,
  wind: 'calm',
  windFrom: 'ahead',
  stopsPerKm: 0,
  hasSecondPack: false,
  secondAh: undefined,
  secondKg: undefined,
  secondUse: 'together',
};

/** Out of an address; what cannot be read is as usual. */
export function readQuestion(params: URLSearchParams): Question {
  const number = (name: string, low: number, high: number): number | undefined => {
    const text = params.get(name);
    const value = text === null || text === '' ? NaN : Number(text);
    return Number.isFinite(value) ? Math.min(high, Math.max(low, value)) : undefined;
  };
  const wind = params.get('wind');
  const from = params.get('from');
  return {
    setups: (params.get('with') ?? '')
      .split(',')
      .filter((id) => id !== '')
      .slice(0, MOST_SETUPS),
    course: params.get('on') ?? '',
    isBack: params.get('back') === '1',
    isReturn: params.get('return') === '1',
    lengthM: number('m', 50, 200_000) ?? USUAL.lengthM,
    grade: number('grade', -0.3, 0.3) ?? USUAL.grade,
    totalMassKg: number('kg', 30, 400),
    riderPowerW: number('rider', 0, 400),
    targetSpeedKmh: number('kmh', 5, 60),
    level: number('level', 0, 20),
    startShare: number('start', 0.1, 1) ?? USUAL.startShare,
    reserveShare: number('reserve', 0, 0.5) ?? USUAL.reserveShare,
    airTemperatureC: number('air', -20, 45) ?? USUAL.airTemperatureC,
    wind: wind !== null && wind in WINDS ? (wind as WindStrength) : USUAL.wind,
    windFrom: from !== null && (from in WIND_FROM || from in COMPASS) ? (from as WindFrom) : USUAL.windFrom,
    stopsPerKm: number('stops', 0, 8) ?? USUAL.stopsPerKm,
    hasSecondPack: params.get('second') === '1',
    secondAh: number('ah2', 1, 100),
    secondKg: number('kg2', 0, 30),
    secondUse: params.get('use2') === 'turn' ? 'in turn' : 'together',
  };
}

/** Into an address: only what differs from the usual. */
export function writeQuestion(question: Question): URLSearchParams {
  const params = new URLSearchParams();
  const set = (name: string, value: number | string | undefined, usual?: number | string): void => {
    if (value !== undefined && value !== '' && value !== usual) params.set(name, String(value));
  };
  set('with', question.setups.join(','));
  set('on', question.course);
  if (question.isBack) params.set('back', '1');
  if (question.isReturn) params.set('return', '1');
  if (question.course === 'slope') {
    set('m', question.lengthM);
    set('grade', question.grade);
  }
  set('kg', question.totalMassKg);
  set('rider', question.riderPowerW);
  set('kmh', question.targetSpeedKmh);
  set('level', question.level);
  set('start', question.startShare, USUAL.startShare);
  set('reserve', question.reserveShare, USUAL.reserveShare);
  set('air', question.airTemperatureC, USUAL.airTemperatureC);
  set('wind', question.wind, USUAL.wind);
  set('from', question.windFrom, USUAL.windFrom);
  set('stops', question.stopsPerKm, USUAL.stopsPerKm);
  if (question.hasSecondPack) {
    params.set('second', '1');
    set('ah2', question.secondAh);
    set('kg2', question.secondKg);
    if (question.secondUse === 'in turn') params.set('use2', 'turn');
  }
  return params;
}

/** What stands in a field: what was chosen, else what the first setup usually does. */
export function settled(question: Question, usual: SetupCalibration['usual']): Settled {
  return {
    totalMassKg: question.totalMassKg ?? usual.totalMassKg,
    riderPowerW: question.riderPowerW ?? usual.riderPowerW,
    targetSpeedKmh: question.targetSpeedKmh ?? usual.targetSpeedKmh,
    secondAh: question.secondAh ?? usual.packAh ?? 10,
    secondKg: question.secondKg ?? usual.packMassKg ?? 3,
  };
}
export interface Settled {
  readonly totalMassKg: number;
  readonly riderPowerW: number;
  readonly targetSpeedKmh: number;
  readonly secondAh: number;
  readonly secondKg: number;
}
