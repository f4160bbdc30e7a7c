import { Injectable } from '@nestjs/common';
import { knownProfile } from '@ebrix/core/courses';
import { rideCourseOf } from '@ebrix/core/ride-model';
import { keptForecastInputSchema, type Course } from '@ebrix/contract';
import { CourseRepository } from '../courses/course.repository.js';
import { CalibrationService } from '../forecast/calibration.service.js';
import { KeptForecastService } from '../forecast/kept-forecast.service.js';
import { SetupService } from '../setups/setup.service.js';
import { SETUPS } from './scenario.js';

interface Asked {
  readonly title: string;
  readonly setup: string;
  readonly course: string;
  /** Beyond what the setup usually weighs. */
  readonly loadKg: number;
  readonly airTemperatureC: number;
}
/** A claim that is not reached, and a climb that is too hot with the bread and not without. */
const ASKED: readonly Asked[] = [
  {
    title: 'Does it go the claimed 75 km on the Chapel Hill round?',
    setup: SETUPS.corvane.name,
    course: 'Chapel Hill round',
    loadKg: 0,
    airTemperatureC: 15,
  },
  {
    title: 'Windmill road on a warm day',
    setup: SETUPS.corvane.name,
    course: 'Windmill road',
    loadKg: 0,
    airTemperatureC: 25,
  },
  {
    title: 'Windmill road with 48 kg of bread',
    setup: SETUPS.corvane.name,
    course: 'Windmill road',
    loadKg: 48,
    airTemperatureC: 25,
  },
];

/** What the demo has foretold, through the doors a tester uses. */
@Injectable()
export class DemoForecastService {
  constructor(
    private readonly setups: SetupService,
    private readonly courses: CourseRepository,
    private readonly calibrations: CalibrationService,
    private readonly kept: KeptForecastService,
  ) {}

  async load(): Promise<void> {
    const before = new Set((await this.kept.list()).map(({ title }) => title));
    const [setups, courses] = [await this.setups.list(), await this.courses.list()];
    for (const asked of ASKED) {
      const setup = setups.find(({ name }) => name === asked.setup);
      const course = courses.find(({ name }) => name === asked.course);
      if (!setup || !course || before.has(asked.title)) continue;
      await this.keep(asked, setup.id, course);
    }
  }

  private async keep({ title, loadKg, airTemperatureC }: Asked, setupId: string, course: Course): Promise<void> {
    const { usual } = await this.calibrations.ofSetup(setupId);
    const totalMassKg = Math.round(usual.totalMassKg + loadKg);
    const { profile } = rideCourseOf({ lengthM: course.lengthM!, profile: knownProfile(course) ?? null });
    const { figures } = await this.calibrations.forecast({
      setupId,
      seed: 1,
      scenario: {
        profile: [...profile],
        totalMassKg,
        airTemperatureC,
        windMps: 0,
        startShare: 1,
        reserveShare: 0.1,
        riding: { targetSpeedKmh: usual.targetSpeedKmh, riderPowerW: usual.riderPowerW },
      },
    });
    const address = new URLSearchParams({
      with: setupId,
      on: course.id,
      kg: String(totalMassKg),
      air: String(airTemperatureC),
    });
    await this.kept.keep(
      keptForecastInputSchema.parse({
        title,
        setupId,
        courseId: course.id,
        question: { address: address.toString(), words: course.name },
        figures,
      }),
    );
  }
}
