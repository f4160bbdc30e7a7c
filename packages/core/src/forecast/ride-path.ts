import { STANDARD_GRAVITY_MPS2 } from '../units/index.js';
import { coldFactor, SLOW_S } from './fit-pack.js';
import { warmController, warmNodes, type HeatState } from './heat-nodes.js';
import { ROTATING_FACTOR } from './motion-blocks.js';
import { copperAt, powerOfPull, pullOfForce, pullOfPower, type DriveLosses } from './motor-law.js';
import { cellVoltage } from './parameters.js';
import {
  riseBetween,
  type PathAir,
  type PathBike,
  type PathColumns,
  type PathOutcome,
  type PathProfile,
  type PathRiding,
} from './path.js';

const STEP_S = 0.5;
const MAX_PEDAL_N = 180;
const BRAKING_MPS2 = 1.1;
/** Pull that a rider who holds a speed asks for, per m/s missing, per kg. */
const HOLD_PER_S = 0.5;
const BRAKES_ABOVE_MPS = 1.4;
const TAPER_MPS = 0.7;
/** Slower than this for a minute on end the bike is pushed. */
const STALL_MPS = 0.6;
const STALL_S = 60;
/** The lowest speed counts once the bike has got going: after so much of the way. */
const GETTING_GOING_M = 25;
/** The voltage at rest moves slowly: it is looked up every so many steps. */
const REST_EVERY = 8;
/** Of the brakes' work no more than this can come back, whatever was seen: the rest is the tyre's, the coil's and the shoes'. */
const REGAINED_OF_BRAKES = 0.8;
const LONGEST_S = 12 * 3600;

/**
 * One ride along a way, in half-second steps. Same physics as `simulateRide`, for many paths at once: losses of the drive as one law
 * at the tyre, semi-implicit heat, no gear changes. The work of every force is taken over the mean speed of the step, so that energy closes.
 */
export function ridePath(
  bike: PathBike,
  way: PathProfile,
  riding: PathRiding,
  air: PathAir,
  start: { readonly share: number; readonly motorC: number; readonly controllerC?: number; readonly speedMps: number },
  columns?: PathColumns,
): PathOutcome {
  const { parameters: p, fixed, law, massKg, regain } = bike;
  const { seriesCells, nominalVoltageV } = fixed;
  const cold = coldFactor(air.temperatureC);
  let [ohm, slowOhm, capacity] = [p.packResistance * cold, p.slowResistance * cold, p.capacity];
  const wholeAh = capacity + (bike.nextPack?.capacityAh ?? 0);
  const { towards } = way;
  const sideMps = air.sideWindMps ?? 0;
  const windSquared = air.headWindMps ** 2 + sideMps ** 2;
  // Both change where the way turns only.
  let [headMps, acrossSquared, windPiece] = [air.headWindMps, 0, -1];
  const slowKeep = Math.exp(-STEP_S / SLOW_S);
  const inertiaKg = massKg * ROTATING_FACTOR;
  const weight = massKg * STANDARD_GRAVITY_MPS2;
  const halfDrag = 0.5 * air.density * p.dragArea;
  const heat: HeatState = { sensorC: start.motorC, bodyC: start.motorC };
  const losses: DriveLosses = { ...p, isGeared: fixed.isGeared, isAlwaysTurning: fixed.isAlwaysTurning };
  const speedLimitMps = fixed.speedLimitMps ?? Infinity;
  const limitC = fixed.temperatureLimitC ?? Infinity;
  let timeS = 0;
  let movingS = 0;
  let distanceM = 0;
  let speedMps = start.speedMps;
  let slowV = 0;
  let usedAs = 0;
  /** Of the pack that is in use. */
  let packAs = 0;
  let openJ = 0;
  let resists = 1;
  let changedAtM = NaN;
  let lowestMps = Infinity;
  let stalls = 0;
  let slowFor = 0;
  let energyOutJ = 0;
  let riderJ = 0;
  let lowestV = Infinity;
  let peakMotorC = start.motorC;
  let controllerC = start.controllerC ?? air.temperatureC;
  let peakControllerC = controllerC;
  let regainedJ = 0;
  let cutBackM = 0;
  let limitAtS = NaN;
  let driveJ = 0;
  let sagV = 0;
  let inJ = (inertiaKg * speedMps * speedMps) / 2;
  let outJ = 0;
  let climbedM = 0;
  let endedBy: PathOutcome['endedBy'] = 'finish';
  let step = 0;
  let piece = 0;
  let stop = 0;
  let dwellS = 0;
  let belowCutS = 0;
  let column = 0;
  let askedS = 0;
  let restV = seriesCells * cellVoltage(fixed, start.share, p.cellOffset, p.cellSlope);
  let terminalV = restV;
  let lastPowerW = 0;
  for (;;) {
    // Written here, not in a function of its own: variables that a closure shares are many times slower.
    while (columns && column < columns.timeS.length && column * columns.everyM <= distanceM + 1e-6) {
      columns.timeS[column] = timeS;
      columns.speedMps[column] = speedMps;
      columns.powerW[column] = lastPowerW;
      columns.voltageV[column] = terminalV;
      columns.share[column] = start.share - usedAs / 3600 / wholeAh;
      columns.motorC[column] = heat.sensorC;
      columns.controllerC[column] = controllerC;
      columns.energyJ[column] = energyOutJ;
      column++;
    }
    if (distanceM >= way.lengthM - 1e-6) break;
    if (timeS >= LONGEST_S) {
      endedBy = 'time';
      break;
    }
    while (piece < way.endM.length - 1 && way.endM[piece]! <= distanceM) piece++;
    if (towards && piece !== windPiece) {
      windPiece = piece;
      headMps = air.headWindMps * towards.ahead[piece]! + sideMps * towards.right[piece]!;
      acrossSquared = Math.max(0, windSquared - headMps * headMps);
    }
    const { along } = riding;
    const cell = along ? Math.floor(distanceM / along.everyM) : 0;
    const demand = along?.demand ? valueAt(along.demand, cell) : riding.demand;
    const targetMps = along?.targetMps ? valueAt(along.targetMps, cell) : riding.targetMps;
    const riderW = along?.riderW ? valueAt(along.riderW, cell) : riding.riderW;
    const stopM = stop < riding.stopsM.length ? riding.stopsM[stop]! : Infinity;
    const isStanding = dwellS > 0;
    const isStopping =
      !isStanding && stopM - distanceM <= (speedMps * speedMps) / (2 * BRAKING_MPS2) + speedMps * STEP_S;
    const airMps = speedMps + headMps;
    // What blows across makes the air faster, and with it the drag along the way. A straight way is asked about its head wind alone.
    const fastMps = acrossSquared > 0 ? Math.sqrt(airMps * airMps + acrossSquared) : Math.abs(airMps);
    const dragN = halfDrag * airMps * fastMps;
    const rollN = weight * p.rolling * way.cosine[piece]!;
    const slopeN = weight * way.sine[piece]!;
    const againstN = dragN + rollN + slopeN;
    // The rider's wish for pull, and what of it the legs give first.
    const missing = targetMps - speedMps;
    const wishN =
      isStanding || isStopping ? 0 : missing === Infinity ? Infinity : againstN + massKg * HOLD_PER_S * missing;
    // Help that follows the rider takes its part of what both of them give.
    const follows = law === 'rider' && speedMps < speedLimitMps ? demand * (bike.riderRatio ?? 1) : 0;
    const riderN = Math.max(0, Math.min(MAX_PEDAL_N, riderW / Math.max(speedMps, 0.8), wishN / (1 + follows)));
    const copper = copperAt(losses, speedMps, heat.sensorC);
    let forceN = 0;
    let pullN = 0;
    let hot = 1;
    askedS = isStanding || isStopping ? 0 : askedS + STEP_S;
    if (wishN > riderN && demand > 0) {
      if (heat.sensorC > bike.cutBackFromC)
        hot = Math.max(0, (bike.cutBackToC - heat.sensorC) / (bike.cutBackToC - bike.cutBackFromC));
      const nearEnd = Math.min(1, Math.max(0, (speedLimitMps - speedMps) / TAPER_MPS));
      const order = demand * hot * nearEnd * Math.min(1, askedS / riding.rampS);
      const capW = p.fullCurrent * (law === 'current' ? order : 1) * terminalV;
      const byPowerN = pullOfPower(capW, speedMps, p.idlePower, copper);
      const emfN = fixed.isGeared ? Infinity : (p.noLoadSpeed * (restV / nominalVoltageV) - speedMps) / copper;
      const lawN =
        law === 'force'
          ? p.fullForce * order
          : law === 'voltage'
            ? (order * p.noLoadSpeed * (terminalV / nominalVoltageV) - speedMps) / copper
            : law === 'rider'
              ? order * (bike.riderRatio ?? 1) * (riderN / p.driveEfficiency) + p.ironDrag
              : p.fullForce;
      pullN = Math.max(0, Math.min(byPowerN, emfN, lawN, pullOfForce(wishN - riderN, losses)));
      forceN = Math.max(0, p.driveEfficiency * (pullN - p.ironDrag));
      if (forceN === 0) pullN = 0;
    }
    if (pullN === 0 && fixed.isAlwaysTurning && speedMps > 0) forceN = -p.ironDrag;
    const freeN = forceN + riderN - againstN;
    let brakeN = 0;
    if (isStanding) brakeN = freeN;
    else if (isStopping) brakeN = Math.max(0, freeN + BRAKING_MPS2 * inertiaKg);
    else if (speedMps > targetMps + BRAKES_ABOVE_MPS && freeN > 0) brakeN = freeN;
    const nextMps = isStanding ? 0 : Math.max(0, speedMps + ((freeN - brakeN) / inertiaKg) * STEP_S);
    const meanMps = (speedMps + nextMps) / 2;
    const movedM = meanMps * STEP_S;
    const drawnW = powerOfPull(pullN, meanMps, p.idlePower, copper);
    const regainedW =
      regain && pullN === 0 && !isStanding && brakeN > 0
        ? Math.min(regain.share * brakeN * meanMps, regain.limitA * terminalV, REGAINED_OF_BRAKES * brakeN * meanMps)
        : 0;
    const powerW = drawnW - regainedW;
    const restBeforeV = restV;
    const openV = restV - slowV;
    const currentA = (openV - Math.sqrt(Math.max(0, openV * openV - 4 * ohm * powerW))) / (2 * ohm);
    terminalV = openV - ohm * currentA;
    lastPowerW = powerW;

    if (powerW > 0) energyOutJ += powerW * STEP_S;
    else regainedJ -= powerW * STEP_S;
    openJ += restV * currentA * STEP_S;
    riderJ += riderN * movedM;
    if (forceN > 0) driveJ += forceN * movedM;
    const gainedJ = (inertiaKg * (nextMps * nextMps - speedMps * speedMps)) / 2;
    inJ += (restV * currentA + riderN * meanMps) * STEP_S;
    outJ +=
      (dragN + rollN) * movedM +
      (drawnW - forceN * meanMps - regainedW) * STEP_S +
      (ohm * currentA + slowV) * currentA * STEP_S;
    // Feet and brakes hold a bike that stands or would roll back: what is left of the step's own balance.
    outJ += isStanding || nextMps === 0 ? freeN * movedM - gainedJ : brakeN * movedM;
    climbedM += riseBetween(way, piece, distanceM, distanceM + movedM);

    const ironW = pullN > 0 ? p.ironDrag * meanMps : 0;
    warmNodes(heat, p, copper * pullN * pullN, ironW, meanMps, air.temperatureC, STEP_S);
    if (bike.knowsController) {
      controllerC = warmController(controllerC, p, pullN, Math.abs(powerW), meanMps, air.temperatureC, STEP_S);
      if (controllerC > peakControllerC) peakControllerC = controllerC;
    }
    usedAs += currentA * STEP_S;
    packAs += currentA * STEP_S;
    slowV = slowKeep * slowV + (1 - slowKeep) * slowOhm * currentA;
    const share = start.share - packAs / 3600 / capacity;
    if (step++ % REST_EVERY === 0) restV = seriesCells * cellVoltage(fixed, share, p.cellOffset, p.cellSlope);
    distanceM += movedM;
    timeS += STEP_S;
    if (meanMps > 0.5) movingS += STEP_S;
    if (terminalV < lowestV) lowestV = terminalV;
    if ((restBeforeV - terminalV) / resists > sagV) sagV = (restBeforeV - terminalV) / resists;
    if (heat.sensorC > peakMotorC) peakMotorC = heat.sensorC;
    if (hot < 1) cutBackM += movedM;
    if (heat.sensorC >= limitC && Number.isNaN(limitAtS)) limitAtS = timeS;
    if (
      !isStanding &&
      !isStopping &&
      stopAway(distanceM, riding.stopsM, stop) &&
      distanceM > GETTING_GOING_M &&
      nextMps < lowestMps
    )
      lowestMps = nextMps;
    speedMps = nextMps;
    if (isStanding) {
      dwellS = Math.max(0, dwellS - STEP_S);
      if (dwellS === 0) stop++;
    } else if (isStopping && speedMps < 0.6) {
      speedMps = 0;
      dwellS = Math.max(STEP_S, riding.dwellS);
    } else if (speedMps < STALL_MPS) {
      slowFor += STEP_S;
      if (slowFor === 5) stalls++;
      if (slowFor >= STALL_S) {
        endedBy = 'stall';
        break;
      }
    } else slowFor = 0;
    // A dip of a second is not the cut-off of a battery's guard; three are.
    belowCutS = terminalV < fixed.cutoffV ? belowCutS + STEP_S : 0;
    if (belowCutS >= 3 || share <= 0) {
      if (bike.nextPack && Number.isNaN(changedAtM)) {
        changedAtM = distanceM;
        resists = bike.nextPack.resists;
        [ohm, slowOhm, capacity] = [ohm * resists, slowOhm * resists, bike.nextPack.capacityAh];
        [packAs, slowV, belowCutS] = [0, 0, 0];
        restV = seriesCells * cellVoltage(fixed, start.share, p.cellOffset, p.cellSlope);
        terminalV = restV;
        continue;
      }
      endedBy = 'cut-off';
      break;
    }
  }
  return {
    timeS: timeS - (distanceM > way.lengthM && speedMps > 0 ? (distanceM - way.lengthM) / speedMps : 0),
    movingS,
    distanceM: Math.min(distanceM, way.lengthM),
    lowestMps: Number.isFinite(lowestMps) ? lowestMps : speedMps,
    stalls,
    energyOutJ,
    regainedJ,
    usedAh: usedAs / 3600,
    usedShare: usedAs / 3600 / wholeAh,
    openJ,
    changedAtM,
    riderJ,
    driveJ,
    sagV,
    lowestV,
    peakMotorC,
    peakControllerC,
    cutBackM,
    limitAtS,
    endedBy,
    imbalanceShare: inJ > 0 ? (inJ - outJ - (inertiaKg * speedMps * speedMps) / 2 - weight * climbedM) / inJ : 0,
  };
}

function valueAt(values: Float64Array, cell: number): number {
  return values[Math.min(values.length - 1, cell)]!;
}

/** Away from stops: getting going again is no climb that the bike could not take. */
function stopAway(distanceM: number, stopsM: readonly number[], next: number): boolean {
  const last = next > 0 ? stopsM[next - 1]! : -Infinity;
  return distanceM - last > GETTING_GOING_M;
}
