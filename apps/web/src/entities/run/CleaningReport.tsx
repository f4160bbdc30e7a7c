import type { CleaningReportDto } from '@ebrix/contract';
import { CHANNELS } from '@ebrix/core/logs';
import { formatClock, plain } from '../../shared/format/format-quantity.js';

/** What was removed or marked in a log, counted; nothing is said where nothing was done. */
export function cleaningSentences(report: CleaningReportDto): string[] {
  const sentences: string[] = [];
  const count = (n: number, one: string, many: string): string => `${n} ${n === 1 ? one : many}`;
  for (const { channel, count: n } of report.spikes)
    sentences.push(`${count(n, 'spike', 'spikes')} of ${CHANNELS[channel].label} removed`);
  for (const { startS, endS } of report.gaps.slice(0, 5))
    sentences.push(`gap of ${plain(endS - startS, 3)} s at ${formatClock(startS)}, not bridged`);
  if (report.gaps.length > 5) sentences.push(`${report.gaps.length - 5} more gaps`);
  if (report.droppedTimes > 0)
    sentences.push(`${count(report.droppedTimes, 'sample', 'samples')} dropped: time missing, going back or repeated`);
  for (const { atS, backS } of report.clockSteps ?? [])
    sentences.push(
      backS < 0
        ? `clock set forward by ${plain(-backS, 6)} s at ${formatClock(atS)} in full ride: later times moved back`
        : `clock set back by ${plain(backS, 3)} s at ${formatClock(atS)}: later times moved on`,
    );
  if (report.isTurned) sentences.push('discharge was counted negative: current and power turned');
  if (report.isSignUnclear) sentences.push('current below zero nearly throughout, taken as charging');
  if (report.isJoined) sentences.push('voltage and current in rows of their own: each held until its next');
  if (report.isHeld) sentences.push('rows only where a value changed: each held until the next');
  if (report.creepSamples)
    sentences.push(`${count(report.creepSamples, 'sample', 'samples')} of a speed that never rests set to zero`);
  for (const { channel, count: n, firstLine } of report.unreadable)
    sentences.push(
      `${count(n, 'cell', 'cells')} of ${channel === 'time' ? 'time' : CHANNELS[channel].label} no number, first in line ${firstLine}`,
    );
  if (report.raggedRecords > 0)
    sentences.push(`${count(report.raggedRecords, 'line', 'lines')} with too few or too many values`);
  if (report.positionJumps > 0)
    sentences.push(`${count(report.positionJumps, 'position jump', 'position jumps')} removed`);
  for (const { channel, startS, endS } of report.stuck)
    sentences.push(`${CHANNELS[channel].label} stuck from ${formatClock(startS)} to ${formatClock(endS)}`);
  if (report.ignoredColumns.length > 0)
    sentences.push(`unused columns: ${report.ignoredColumns.slice(0, 8).join(', ')}`);
  return sentences;
}

export function CleaningReport({ report }: { readonly report: CleaningReportDto }) {
  const sentences = cleaningSentences(report);
  const { speedComparison: speeds } = report;
  return (
    <div className="grid gap-6">
      <p>
        {report.samplesKept.toLocaleString()} of {report.samplesRead.toLocaleString()} samples kept, one every{' '}
        {plain(report.medianStepS, 3)} s
        {report.felt &&
          `; what was felt in ${report.felt.samples.toLocaleString()} of them, one every ${plain(report.felt.stepS, 2)} s`}
        .
      </p>
      {sentences.length === 0 ? (
        <p>Nothing needed changing.</p>
      ) : (
        <ul className="m-0 pl-18">
          {sentences.map((sentence) => (
            <li key={sentence}>{sentence}</li>
          ))}
        </ul>
      )}
      {speeds?.isSuspect && (
        <p className="caution">
          Wheel distance is {plain(100 * (speeds.ratio - 1), 2)} % different from the GPS positions (
          {plain(100 * (speeds.lower - 1), 2)} … {plain(100 * (speeds.upper - 1), 2)} %): the wheel circumference is set
          wrong. Divide it by {plain(speeds.ratio, 4)}.
        </p>
      )}
    </div>
  );
}
