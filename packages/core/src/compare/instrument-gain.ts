import type { ComparedRun } from './comparison.js';

/**
 * What the gains of the loggers add to the ratio of two setups, as a relative standard uncertainty.
 *
 * A gain common to both sides cancels: what counts of a logger is the difference of its shares in the two setups' runs, taken
 * within outings where these hold both. A run of a logger that is not known shares it with no other.
 * Shapes: `clusters` by run, where outings or groups join the setups.
 */
export function uncancelledGain(
  a: readonly ComparedRun[],
  b: readonly ComparedRun[],
  clusterOf?: (run: ComparedRun) => string | undefined,
): number {
  if (![...a, ...b].some(({ instrument }) => instrument)) return 0;
  const parts = clusterOf ? joinedParts(a, b, clusterOf) : [];
  const shared = parts.length > 0 ? parts : [[a, b] as const];
  const netShare = new Map<string, { share: number; gain: number }>();
  shared.forEach((sides) =>
    sides.forEach((runs, side) =>
      runs.forEach(({ instrument }) => {
        if (!instrument) return;
        const id = instrument.id ?? `unknown ${side}`;
        const known = netShare.get(id) ?? { share: 0, gain: 0 };
        const share = (side === 0 ? 1 : -1) / runs.length / shared.length;
        netShare.set(id, {
          share: known.share + share,
          gain: Math.max(known.gain, instrument.relativeUncertainty),
        });
      }),
    ),
  );
  return Math.hypot(
    ...[...netShare.values()].map(({ share, gain }) => (Math.abs(share) < ROUNDING ? 0 : share * gain)),
  );
}
const ROUNDING = 1e-9;

/** The two sides' runs, outing by outing, of those outings that hold both. */
function joinedParts(
  a: readonly ComparedRun[],
  b: readonly ComparedRun[],
  clusterOf: (run: ComparedRun) => string | undefined,
): (readonly [readonly ComparedRun[], readonly ComparedRun[]])[] {
  return [...new Set(a.map(clusterOf))].flatMap((cluster) => {
    const sides = [a, b].map((runs) => runs.filter((run) => clusterOf(run) === cluster));
    return cluster !== undefined && sides[1]!.length > 0 ? [[sides[0]!, sides[1]!] as const] : [];
  });
}
