import {
  analyseLog,
  cutForTest,
  warnInto,
  warnOfCut,
  type FigureWarning,
  type TestContext,
  type TestKind,
} from '@ebrix/core/analysis';
import { channelDefinition, CHANNEL_NAMES, type CleanLog } from '@ebrix/core/logs';
import type { QuickLookLog, Strip } from '@ebrix/contract';
import { isoOfEpoch } from '../common/row.js';
import { withPower } from './read-ride.js';
import { stripOfLog } from './strip.js';

export const QUICK_LOOK_BINS = 800;

/** All that one log shows for a kind of test, kept nowhere. */
export function quickLookOf(log: CleanLog, test: TestKind, context: TestContext): QuickLookLog {
  const warnings: FigureWarning[] = [];
  const cut = cutForTest(log, context);
  const warn = warnInto(warnings);
  warnOfCut(cut, warn);
  const { method, figures, passes, coasts, levels, events, spans, charts } = analyseLog(test, cut.log, context, warn);
  const strip: Strip = stripOfLog(withPower(log), QUICK_LOOK_BINS);
  return {
    test,
    startedAt: isoOfEpoch(log.startEpochS),
    method: { ...method },
    passes: [
      ...passes.map(({ direction, startS, endS, steadySpeed }) => ({ direction, startS, endS, steadySpeed })),
      ...coasts.map((coast) => ({ ...coast, steadySpeed: null })),
    ],
    events: events.map(({ startS, endS, latency, riseTime, overrun, brakeCutoff, time0to20, endsBy }) => ({
      startS,
      endS,
      latency,
      riseTime,
      overrun,
      brakeCutoff,
      time0to20,
      endsBy,
    })),
    levels: levels.map(({ level, steadySpeed, consumption, meanPower, sameAs, fromS, toS }) => ({
      level,
      steadySpeed: steadySpeed.value,
      consumption: consumption?.value ?? null,
      meanPower: meanPower?.value ?? null,
      sameAs: [...sameAs],
      startS: fromS,
      endS: toS,
    })),
    channels: CHANNEL_NAMES.flatMap((name) => {
      const values = log.channels[name];
      if (!values) return [];
      const { label, fieldUnit } = channelDefinition(name);
      return [{ name, label, unit: fieldUnit, samples: values.reduce((n, v) => (Number.isNaN(v) ? n : n + 1), 0) }];
    }),
    cleaning: log.report,
    figures,
    warnings,
    spans,
    charts,
    strip,
  };
}
