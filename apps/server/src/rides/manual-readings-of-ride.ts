import type { AfterRide, ManualReadingsDto, Preparation, RideMark, RunAssignment } from '@ebrix/contract';

/**
 * What was tapped and read at the roadside, as the analysis takes it; null where nothing was.
 * Heart rates, temperatures and gate passes need a time: those taken before the start are left aside.
 */
export function manualReadingsOfRide(
  marks: readonly RideMark[],
  preparation: Preparation,
  after: AfterRide,
): ManualReadingsDto | null {
  const counted = marks.filter(({ isUndone, elapsedS }) => !isUndone && elapsedS !== null);
  let direction: 1 | -1 = 1;
  const laps: NonNullable<ManualReadingsDto['laps']>[number][] = [];
  for (const { kind, elapsedS, direction: given } of counted) {
    if (kind !== 'start' && kind !== 'lap' && kind !== 'finish') continue;
    if (kind === 'start' && given !== null) direction = given;
    laps.push({ gate: kind, direction: given ?? direction, elapsedS: elapsedS! });
  }
  const temperatures = counted.flatMap(({ kind, place, value, elapsedS }) =>
    kind === 'temperature' && place !== null && value !== null ? [{ place, elapsedS: elapsedS!, valueC: value }] : [],
  );
  const heartRates = counted.flatMap(({ kind, value, elapsedS }) =>
    kind === 'heart-rate' && value !== null ? [{ elapsedS: elapsedS!, bpm: value }] : [],
  );
  const gaugeSeen = counted.flatMap(({ kind, value, elapsedS }) =>
    kind === 'gauge' && value !== null ? [{ elapsedS: elapsedS!, bars: value }] : [],
  );
  const levelsSeen = counted.flatMap(({ kind, value, elapsedS }) =>
    kind === 'level' && value !== null ? [{ elapsedS: elapsedS!, level: String(value) }] : [],
  );
  const volts = counted.flatMap(({ kind, value }) => (kind === 'voltage' && value !== null ? [value] : []));
  const manualReadings: ManualReadingsDto = {
    ...(gaugeSeen.length > 0 && { gaugeSeen }),
    ...(levelsSeen.length > 0 && { levelsSeen }),
    // What a display shows on the way is under load: the lowest tells of the sag.
    ...(volts.length > 0 && { lowestVoltageV: Math.min(...volts) }),
    ...after.readings,
    ...(laps.length > 0 && { laps }),
    ...(temperatures.length > 0 && { temperatures }),
    ...(heartRates.length > 0 && { heartRates }),
    ...(after.tripDistanceKm !== null && {
      tripDistanceKm: after.tripDistanceKm,
      tripStepKm: stepOf(after.tripDistanceKm),
    }),
    ...(after.displayMeanKmh !== null && {
      displayMeanKmh: after.displayMeanKmh,
      displayStepKmh: stepOf(after.displayMeanKmh),
    }),
    ...(preparation.startVoltageV !== null && { restVoltageStartV: preparation.startVoltageV }),
    ...(after.endVoltageV !== null && { restVoltageEndV: after.endVoltageV }),
    ...(after.wallEnergyWh !== null && { wallEnergyWh: after.wallEnergyWh }),
  };
  return Object.keys(manualReadings).length > 0 ? manualReadings : null;
}

/** Bars before and after: as read in preparing and at the end, else as noted on the way; null while one is not known. */
export function gaugeOfRide(
  marks: readonly RideMark[],
  preparation: Preparation,
  after: AfterRide,
): RunAssignment['gauge'] {
  const seen = marks.filter(({ kind, value, isUndone }) => kind === 'gauge' && value !== null && !isUndone);
  const early = seen.filter(({ elapsedS }) => elapsedS === null || elapsedS <= SOON_S);
  const late = seen.filter(({ elapsedS }) => elapsedS !== null && elapsedS > SOON_S);
  const start = preparation.gaugeStart ?? early[0]?.value ?? null;
  const end = after.gaugeEnd ?? late.at(-1)?.value ?? null;
  const bars = preparation.gaugeBars;
  const isWhole = start !== null && end !== null && bars !== null;
  return isWhole && end <= start && start <= bars ? { start, end, bars } : null;
}

/** Bars noted within the first minute are those of the start. */
const SOON_S = 60;
const COARSEST_STEP = 1;

/** A display that shows 12.4 counts in tenths. A whole number is taken for a step of one. */
function stepOf(value: number): number {
  const decimals = (String(value).split('.')[1] ?? '').length;
  return COARSEST_STEP / 10 ** Math.min(3, decimals);
}
