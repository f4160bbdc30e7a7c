import type { AfterRide, ManualReadingsDto, Preparation, RideMark } from '@ebrix/contract';

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
  const manualReadings: ManualReadingsDto = {
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

const COARSEST_STEP = 1;

/** A display that shows 12.4 counts in tenths. A whole number is taken for a step of one. */
function stepOf(value: number): number {
  const decimals = (String(value).split('.')[1] ?? '').length;
  return COARSEST_STEP / 10 ** Math.min(3, decimals);
}
