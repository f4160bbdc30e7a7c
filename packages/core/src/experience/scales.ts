/** How a setup is to live with, on five steps with words at the ends and in the middle: 1 the worse, 5 the better. */
export interface ExperienceScale {
  readonly label: string;
  /** What 1, 3 and 5 mean. */
  readonly anchors: readonly [one: string, three: string, five: string];
}

export const EXPERIENCE_SCALES = {
  noise: {
    label: 'Noise',
    anchors: ['turns heads across the street', 'heard by the rider all the way', 'not heard above tyres and wind'],
  },
  smoothness: {
    label: 'Smoothness',
    anchors: [
      'jerks at every start and stop',
      'now and then a push that was not asked for',
      'as if the road tilted down',
    ],
  },
  pull: {
    label: 'Pull from standstill',
    anchors: ['one pushes off alone', 'helps after the first metres', 'carries a loaded bike off the line'],
  },
  runOn: {
    label: 'When help ends',
    anchors: ['pushes on so that one brakes against it', 'ends a moment late', 'ends with the pedals'],
  },
  reach: {
    label: 'Reach of controls',
    anchors: ['a hand leaves the bar', 'thumb has to look for it', 'all under thumb and finger'],
  },
  braking: {
    label: 'Braking',
    anchors: ['needs planning ahead', 'sure in the dry', 'sure with load and in the wet'],
  },
  stability: {
    label: 'Steadiness',
    anchors: ['wanders or lifts a wheel', 'needs a firm hand at walking pace', 'steady with one hand'],
  },
  rain: {
    label: 'In rain',
    anchors: ['plays up in a drizzle', 'takes a shower, dried afterwards', 'works through a wet day'],
  },
  comfort: {
    label: 'Comfort over a day',
    anchors: ['glad to get off after an hour', 'good for a morning', 'good for the whole round'],
  },
} as const satisfies Record<string, ExperienceScale>;
export type ExperienceKey = keyof typeof EXPERIENCE_SCALES;
export const EXPERIENCE_KEYS = Object.keys(EXPERIENCE_SCALES) as ExperienceKey[];
export const LOWEST_STEP = 1;
export const HIGHEST_STEP = 5;
