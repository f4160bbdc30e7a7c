import {
  adjustBenjaminiHochberg,
  adjustHolm,
  compareWithBlocks,
  compareWithCovariate,
  describeSample,
  fUpperTail,
  fitCensoredLogNormal,
  fitLinearModel,
  fitRandomIntercept,
  gamesHowell,
  hedgesG,
  kruskalWallis,
  mannWhitney,
  mannWhitneyNormalPValue,
  noncentralTCdf,
  oneWayAnova,
  pairedTInterval,
  powerOfTTest,
  runsForPower,
  studentTCdf,
  studentTQuantile,
  studentizedRangeCdf,
  studentizedRangeQuantile,
  summarizeSample,
  tukeyKramer,
  welchAnova,
  welchEquivalence,
  welchRatioInterval,
  welchTInterval,
  wilcoxonSignedRank,
  type ComparisonDesign,
} from './index.js';
import reference from './reference/statistics.json' with { type: 'json' };

/** Relative agreement; 1e-6 unless the reference itself is only good to less. */
function expectClose(actual: number | undefined, expected: number, relative = 1e-6, absolute = 1e-15): void {
  expect(Math.abs(actual! - expected)).toBeLessThanOrEqual(Math.max(relative * Math.abs(expected), absolute));
}
function unwrap<T>(outcome: { ok: true; value: T } | { ok: false; reason: string }): T {
  if (!outcome.ok) throw new Error(`refused: ${outcome.reason}`);
  return outcome.value;
}
function indexed(names: readonly string[]): number[] {
  const seen = [...new Set(names)].sort();
  return names.map((name) => seen.indexOf(name));
}
function grouped(y: readonly number[], names: readonly string[]): number[][] {
  const index = indexed(names);
  return Array.from({ length: Math.max(...index) + 1 }, (_, g) => y.filter((_value, k) => index[k] === g));
}

const SIGNED_WITH_TIES = [1.2, 0.5, -0.5, 0, 2.1, 1.2, 0.8, -0.2, 1.7, 0];
const { a, b } = reference.twoSamples;
const groups = grouped(reference.groups.y, reference.groups.group);

describe('agreement with independent software', () => {
  it('describes a sample', () => {
    const r = reference.describe;
    const d = describeSample(r.x);
    expectClose(d.mean, r.mean);
    expectClose(d.standardDeviation, r.sd);
    expectClose(d.coefficientOfVariation, r.cv);
    expectClose(d.median, r.median);
    expectClose(d.medianAbsoluteDeviation, r.mad);
    d.quartiles.forEach((q, k) => expectClose(q, r.quartilesType7[k]!));
    expectClose(d.intervalOfMean!.lower, r.ci95Mean[0]!);
    expectClose(d.intervalOfMean!.upper, r.ci95Mean[1]!);
    expectClose(d.geometricMean, r.geometricMean);
    expectClose(d.intervalOfGeometricMean!.lower, r.ci95GeometricMean[0]!);
    expectClose(d.intervalOfGeometricMean!.upper, r.ci95GeometricMean[1]!);
  });

  it('compares two samples by Welch, as difference and as ratio', () => {
    const r = reference.twoSamples;
    const w = unwrap(welchTInterval(summarizeSample(a), summarizeSample(b), 0.95));
    expectClose(w.estimate, r.welch.difference);
    expectClose(w.t, r.welch.t);
    expectClose(w.degreesOfFreedom, r.welch.df);
    expectClose(w.pValue, r.welch.p);
    expectClose(w.lower, r.welch.ci95[0]!);
    expectClose(w.upper, r.welch.ci95[1]!);
    const ratio = unwrap(welchRatioInterval(a, b, 0.95));
    expectClose(ratio.ratio, r.ratioOfGeometricMeans.ratio);
    expectClose(ratio.lower, r.ratioOfGeometricMeans.ci95[0]!);
    expectClose(ratio.upper, r.ratioOfGeometricMeans.ci95[1]!);
    expectClose(ratio.pValue, r.ratioOfGeometricMeans.p);
    const g = unwrap(hedgesG(summarizeSample(a), summarizeSample(b)));
    expectClose(g.cohenD, r.hedgesG.cohenD);
    expectClose(g.correction, r.hedgesG.exactCorrection);
    expectClose(g.g, r.hedgesG.g);
  });

  it('compares two samples by ranks', () => {
    const r = reference.twoSamples;
    const shift = unwrap(mannWhitney(a, b, 0.95));
    expectClose(shift.statistic, r.mannWhitney.W);
    expectClose(unwrap(mannWhitneyNormalPValue(a, b)), r.mannWhitney.pNormalContinuityTies);
    expectClose(shift.estimate, r.hodgesLehmann.estimate);
    expectClose(shift.lower, r.hodgesLehmann.ci95[0]!);
    expectClose(shift.upper, r.hodgesLehmann.ci95[1]!);
    expectClose(shift.pValue, r.hodgesLehmann.p);
  });

  it('compares pairs', () => {
    const r = reference.paired;
    const differences = r.a.map((x, k) => x - r.b[k]!);
    const t = unwrap(pairedTInterval(differences, 0.95));
    expectClose(t.estimate, r.pairedT.meanDifference);
    expectClose(t.pValue, r.pairedT.p);
    expectClose(t.lower, r.pairedT.ci95[0]!);
    expectClose(t.upper, r.pairedT.ci95[1]!);
    const rounded = differences.map((d) => Math.round(d * 1e6) / 1e6);
    const rank = unwrap(wilcoxonSignedRank(rounded, 0.95));
    expectClose(rank.statistic, r.wilcoxonSignedRank.V);
    expectClose(rank.pValue, r.wilcoxonSignedRank.p);
    expectClose(rank.estimate, r.wilcoxonSignedRank.pseudoMedian);
    expectClose(rank.lower, r.wilcoxonSignedRank.ci95[0]!);
    expectClose(rank.upper, r.wilcoxonSignedRank.ci95[1]!);
  });

  it('tests several groups', () => {
    const r = reference.groups;
    const anova = unwrap(oneWayAnova(groups));
    expectClose(anova.f, r.anova.F);
    expectClose(anova.pValue, r.anova.p);
    expectClose(anova.sumOfSquaresBetween, r.anova.ssBetween);
    expectClose(anova.sumOfSquaresWithin, r.anova.ssWithin);
    const welch = unwrap(welchAnova(groups));
    expectClose(welch.f, r.welchAnova.F);
    expectClose(welch.denominatorDf, r.welchAnova.df2);
    expectClose(welch.pValue, r.welchAnova.p);
    const ranks = unwrap(kruskalWallis(groups));
    expectClose(ranks.h, r.kruskalWallis.H);
    expectClose(ranks.pValue, r.kruskalWallis.p);
  });

  it('gives simultaneous intervals for all pairs', () => {
    unwrap(gamesHowell(groups, 0.95)).forEach((pair, k) => {
      const r = reference.groups.gamesHowell[k]!;
      expectClose(pair.difference, r.difference);
      expectClose(pair.degreesOfFreedom, r.df);
      expectClose(pair.pValue, r.p);
      expectClose(pair.lower, r.ci95[0]!);
      expectClose(pair.upper, r.ci95[1]!);
    });
    const [ab, ac, bc] = unwrap(tukeyKramer(groups, 0.95));
    [ab!, ac!, bc!].forEach((pair, k) => {
      const r = reference.groups.tukey[k]!;
      // The reference states these pairs the other way round (second minus first).
      expectClose(-pair.difference, r.difference);
      expectClose(pair.pValue, r.p);
      expectClose(-pair.upper, r.ci95[0]!);
      expectClose(-pair.lower, r.ci95[1]!);
    });
  });

  it.each([
    ['balanced', reference.blocked],
    ['with missing cells', reference.blockedUnbalanced],
  ])('compares setups within outings, %s', (_name, r) => {
    const c = unwrap(compareWithBlocks(r.y, indexed(r.treatment), indexed(r.block), 0.95));
    expectClose(c.treatmentTest.f, r.anova.treatment.F);
    expectClose(c.treatmentTest.pValue, r.anova.treatment.p);
    expectClose(c.residualVariance, r.anova.residual.ms);
    r.adjustedMeans.forEach((m, k) => {
      expectClose(c.adjustedMeans[k]!.mean, m.mean);
      expectClose(c.adjustedMeans[k]!.standardError, m.se);
      expectClose(c.adjustedMeans[k]!.lower, m.ci95[0]!);
    });
    r.contrastsTukey.forEach((pair, k) => {
      expectClose(c.contrasts[k]!.difference, pair.estimate);
      // The reference's own studentized range is good to about 1e-8 in far tails.
      expectClose(c.contrasts[k]!.pValue, pair.p, 1e-6, 1e-8);
      expectClose(c.contrasts[k]!.lower, pair.ci95[0]!);
      expectClose(c.contrasts[k]!.upper, pair.ci95[1]!);
    });
  });

  it('adjusts for a covariate', () => {
    const r = reference.ancova;
    const c = unwrap(compareWithCovariate(r.y, indexed(r.treatment), r.covariate, 0.95));
    expectClose(c.slope, r.slope.estimate);
    expectClose(c.slopeStandardError, r.slope.se);
    expectClose(c.covariateMean, r.covariateMean);
    r.adjustedMeans.forEach((m, k) => {
      expectClose(c.adjustedMeans[k]!.mean, m.mean);
      expectClose(c.adjustedMeans[k]!.standardError, m.se);
    });
  });

  it('tests equivalence', () => {
    const r = reference.tost;
    const e = unwrap(welchEquivalence(summarizeSample(r.a), summarizeSample(r.b), r.margin));
    expectClose(e.pLower, r.pLower);
    expectClose(e.pUpper, r.pUpper);
    expectClose(e.interval90.lower, r.ci90[0]!);
    expectClose(e.interval90.upper, r.ci90[1]!);
    expect(e.withinMargin).toBe(true);
  });

  it('tests equal slopes and the blocks', () => {
    const r = reference.ancova;
    const fit = unwrap(compareWithCovariate(r.y, indexed(r.treatment), r.covariate, 0.95));
    expectClose(fit.slopesDiffer!.f, r.slopesDiffer.F);
    expectClose(fit.slopesDiffer!.pValue, r.slopesDiffer.p);
    expectClose(fit.slopePValue, r.slope.p);
    expectClose(fit.rSquared, r.r2);
    const b = reference.blocked;
    const blocked = unwrap(compareWithBlocks(b.y, indexed(b.treatment), indexed(b.block), 0.95));
    expectClose(blocked.blockTest!.f, b.anova.block.F);
    expectClose(blocked.blockTest!.pValue, b.anova.block.p);
  });

  it('fits a random intercept by restricted likelihood', () => {
    const r = reference.mixed;
    const setups = [...new Set(r.treatment)].sort();
    const rows = r.treatment.map((name) => setups.map((setup) => (setup === name ? 1 : 0)));
    const fit = unwrap(fitRandomIntercept(rows, r.y, indexed(r.group)));
    expectClose(Math.sqrt(fit.groupVariance), r.groupSd, 1e-5);
    expectClose(Math.sqrt(fit.residualVariance), r.residualSd, 1e-5);
    expectClose(fit.remlLogLikelihood, r.remlLogLik, 1e-6);
    for (const { contrast, estimate, se, df } of r.contrasts) {
      const [a, b] = contrast.split(' - ');
      const own = fit.combine(setups.map((setup) => (setup === a ? 1 : setup === b ? -1 : 0)));
      expectClose(own.estimate, estimate, 1e-5);
      expectClose(own.standardError, se, 1e-5);
      expectClose(own.degreesOfFreedom, df, 1e-4);
    }
    const intercept = r.fixed[0]!;
    const first = fit.combine([1, 0, 0]);
    expectClose(first.estimate, intercept.estimate, 1e-5);
    expectClose(first.degreesOfFreedom, intercept.dfSatterthwaite, 1e-4);
  });

  it('tests ranks with ties and zeros by the normal distribution', () => {
    // p by scipy.stats.wilcoxon(zero_method="wilcox", correction=True, mode="approx").
    const ties = unwrap(wilcoxonSignedRank(SIGNED_WITH_TIES, 0.95));
    expectClose(ties.pValue, 0.04938938891204152, 1e-9);
    expect(ties).toMatchObject({ statistic: 32.5, exact: false });
    expect(ties.lower).toBeLessThan(ties.estimate);
    expect(ties.upper).toBeGreaterThan(ties.estimate);
  });

  it('fits a regression by least squares', () => {
    const r = reference.ols;
    const fit = unwrap(
      fitLinearModel(
        r.y.map((_, k) => [1, r.x.v[k]!, r.x.v2[k]!]),
        r.y,
      ),
    );
    r.coefficients.forEach((c, k) => {
      expectClose(fit.coefficients[k], c.estimate);
      expectClose(Math.sqrt(fit.residualVariance * fit.unscaledCovariance[k * 3 + k]!), c.se);
    });
    expectClose(Math.sqrt(fit.residualVariance), r.residualSd);
  });

  it('fits censored ride distances', () => {
    const r = reference.censoredLognormal;
    const fit = unwrap(fitCensoredLogNormal(r.distance, r.emptied));
    expectClose(fit.mu, r.mu, 1e-5);
    expectClose(fit.sigma, r.sigma, 1e-4);
    expectClose(fit.median, r.median, 1e-5);
    expectClose(fit.logLikelihood, r.logLik);
    expectClose(fit.standardErrorOfMu, r.seMu, 1e-4);
  });

  it('plans runs and power from the noncentral t', () => {
    for (const r of reference.sampleSize) {
      const design: ComparisonDesign = r.type === 'paired' ? 'paired' : 'two-sample';
      expectClose(runsForPower({ difference: r.delta, standardDeviation: r.sd, design }, r.power), r.n, 1e-4);
    }
    for (const r of reference.power) {
      const design: ComparisonDesign = r.type === 'paired' ? 'paired' : 'two-sample';
      expectClose(powerOfTTest({ difference: r.delta, standardDeviation: r.sd, design }, r.n), r.power);
    }
  });

  it('adjusts p-values', () => {
    adjustHolm(reference.adjust.p).forEach((p, k) => expectClose(p, reference.adjust.holm[k]!));
    adjustBenjaminiHochberg(reference.adjust.p).forEach((p, k) =>
      expectClose(p, reference.adjust.benjaminiHochberg[k]!),
    );
  });

  it('knows the distributions', () => {
    const r = reference.distributions;
    r.tCdf.forEach(({ t, df, p }) => expectClose(studentTCdf(t, df), p, 1e-9));
    r.tQuantile.forEach(({ t, df, p }) => expectClose(studentTQuantile(p, df), t, 1e-9));
    r.fUpper.forEach(({ F, df1, df2, p }) => expectClose(fUpperTail(F, df1, df2), p, 1e-9));
    r.noncentralTCdf.forEach(({ t, df, ncp, p }) => expectClose(noncentralTCdf(t, df, ncp), p, 1e-8));
    r.studentizedRangeUpper.forEach(({ q, k, df, p }) => expectClose(1 - studentizedRangeCdf(q, k, df), p, 1e-6));
    r.studentizedRangeQuantile.forEach(({ q, k, df, p }) => expectClose(studentizedRangeQuantile(p, k, df), q, 1e-6));
  });
});
