import { Injectable } from '@nestjs/common';
import type { RideOverview } from '@ebrix/contract';
import { CourseRepository } from '../courses/course.repository.js';
import { PlanRepository } from '../plans/plan.repository.js';
import { SetupRepository } from '../setups/setup.repository.js';
import { SetupService } from '../setups/setup.service.js';
import type { StoredRide } from './ride-row.js';
import { RideRepository } from './ride.repository.js';
import { OVER, UNDER_WAY } from './ride-states.js';

const SHOWN_OVER = 12;
const MAX_NEXT = 12;

/** What a tester finds under Ride: rides under way, the next runs by plan, and the last ones. */
@Injectable()
export class RideOverviewService {
  constructor(
    private readonly rides: RideRepository,
    private readonly plans: PlanRepository,
    private readonly courses: CourseRepository,
    private readonly setupRepository: SetupRepository,
    private readonly setups: SetupService,
  ) {}

  async overview(): Promise<RideOverview> {
    const [underway, over, trials] = await Promise.all([
      this.rides.list(UNDER_WAY, 50),
      this.rides.list(OVER, SHOWN_OVER),
      this.plans.trialsToRide(),
    ]);
    const courses = new Map((await this.courses.list()).map((course) => [course.id, course.name]));
    const next = await Promise.all(
      trials.slice(0, MAX_NEXT).map(async ({ id, question, input }) => {
        const slots = await this.plans.slotsOf(id);
        const at = slots.findIndex(({ state }) => state === 'planned');
        const slot = slots[at]!;
        const test = input.tests[slot.test]!;
        const setupId = await this.setupRepository.findSetupOf(slot.revisionId);
        const [setup] = setupId ? await this.setupRepository.list(setupId) : [];
        const clearance = (await this.setups.clearances([slot.revisionId])).get(slot.revisionId);
        return {
          slotId: slot.id,
          trialId: id,
          question,
          letter: slot.letter,
          setup: setup?.name ?? '',
          course: courses.get(test.courseId) ?? '',
          testKind: test.testKind,
          outing: slot.outing,
          number: at + 1,
          of: slots.length,
          openClearance: clearance?.openClearance ?? 0,
        };
      }),
    );
    const listed = async (ride: StoredRide): Promise<RideOverview['underway'][number]> => {
      const planned = ride.slotId === null ? undefined : await this.plans.findSlot(ride.slotId);
      return {
        id: ride.id,
        state: ride.state,
        createdAt: ride.createdAt,
        setup: ride.setup.name,
        course: courses.get(ride.courseId) ?? '',
        testKind: ride.testKind,
        letter: planned?.slot.letter ?? null,
        question: planned?.question ?? null,
        runId: ride.runId,
      };
    };
    return { underway: await Promise.all(underway.map(listed)), next, recent: await Promise.all(over.map(listed)) };
  }
}
