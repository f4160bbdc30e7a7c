import type { CleanLog } from '../../logs/index.js';
import { derivationNumber as num, type FigureWarning } from '../figure.js';

/** What the cleaning found that a careful tester would want to hear of. */
export function logFlags({ report, hasClock }: CleanLog): FigureWarning[] {
  const warnings: FigureWarning[] = [];
  const add = (code: string, message: string): void => void warnings.push({ code, message });
  if (hasClock && report.droppedTimes > report.samplesRead / 5)
    add(
      'time-disordered',
      `${report.droppedTimes} of ${report.samplesRead} samples had no usable time (missing, going back or repeated) and were left out.`,
    );
  for (const { atS, backS } of report.clockSteps?.slice(0, 3) ?? [])
    if (backS < 0)
      add(
        'clock-set-forward',
        `The clock of the log was set forward by ${num(Number((-backS).toPrecision(6)))} s at ${num(Number(atS.toFixed(1)))} s in full ride: no time went by, and the times after it were moved back.`,
      );
    else
      add(
        'clock-set-back',
        `The clock of the log was set back by ${num(backS)} s at ${num(Number(atS.toFixed(1)))} s. The times after it were moved on by one step; if the logger was off meanwhile, that pause is not known.`,
      );
  if (report.isTurned)
    add(
      'discharge-negative',
      'Discharge is counted negative in this log: its voltage falls as the current goes further below zero. The sign was turned. If that is wrong, say so at the column.',
    );
  if (report.isSignUnclear)
    add(
      'discharge-sign-unclear',
      'Current or power is below zero nearly throughout, and the voltage does not tell whether that is discharge: it is taken as charging. If it is discharge, say so at the column.',
    );
  if (report.isJoined)
    add('rows-of-their-own', 'Voltage and current stand in rows of their own: each was held until its next value.');
  if (report.isHeld)
    add('rows-on-change', 'The log has a row only when a value changed: each value was held until the next row.');
  for (const { channel, startS, endS } of report.stuck.slice(0, 5))
    add(
      'sensor-stuck',
      `The ${channel} sensor showed one value from ${num(startS)} to ${num(endS)} s while the others moved.`,
    );
  if (report.speedComparison?.isSuspect)
    add(
      'wheel-size-suspect',
      `Wheel and position disagree: the wheel shows ${num(report.speedComparison.ratio)} times the distance. Wheel circumference set wrong? Divide it by ${num(report.speedComparison.ratio)}.`,
    );
  for (const { channel, count, firstLine } of report.unreadable)
    if (count > report.samplesRead / 10)
      add('many-unreadable', `${count} values of ${channel} are not numbers, the first in line ${firstLine}.`);
  return warnings;
}
