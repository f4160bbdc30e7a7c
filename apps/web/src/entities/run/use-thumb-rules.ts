import { useMemo } from 'react';
import { isConverted, type SetupFacts, type ThumbRule } from '@ebrix/core/bench';
import { learnedRule, thumbWayOf, workedThumbRules } from '@ebrix/core/ride-model';
import type { Course, RepeatedFigure } from '@ebrix/contract';
import { useThumbRulesQuery } from '../setup/index.js';
import { useListCoursesQuery } from '../course/index.js';
import { useRepeatedFiguresQuery } from './api.js';

/** The tester's own rules, or those of the ride model for this setup, taught by its rides. */
export function useThumbRules(setupId: string | undefined, facts: SetupFacts | undefined): readonly ThumbRule[] {
  const { data: own } = useThumbRulesQuery();
  const { currentData: repeated } = useRepeatedFiguresQuery(setupId ?? '', { skip: setupId === undefined });
  const { data: courses } = useListCoursesQuery(undefined, { skip: setupId === undefined });
  return useMemo(
    () => (facts === undefined || own === undefined ? [] : rulesOf(own, facts, repeated, courses)),
    [own, facts, repeated, courses],
  );
}

export function rulesOf(
  own: readonly ThumbRule[],
  facts: SetupFacts,
  repeated: readonly RepeatedFigure[] = [],
  courses: readonly Pick<Course, 'id' | 'kind'>[] = [],
): readonly ThumbRule[] {
  if (own.length > 0) return own;
  if (!isConverted(facts)) return [];
  // A rule of thumb is of rounds: one way up a hill, or down it, teaches none.
  const rounds = new Set(courses.filter(({ kind }) => kind === 'loop' || kind === 'out-and-back').map(({ id }) => id));
  return workedThumbRules(facts).map((rule) =>
    learnedRule(
      rule,
      repeated
        .filter(
          ({ key, testKind, way, course }) =>
            key === 'netConsumption' && testKind === 'range' && rounds.has(course.id) && thumbWayOf(way) === rule.way,
        )
        .flatMap(({ runs }) => runs.map(({ value }) => value)),
    ),
  );
}
