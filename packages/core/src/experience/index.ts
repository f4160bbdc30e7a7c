export {
  EXPERIENCE_KEYS,
  EXPERIENCE_SCALES,
  HIGHEST_STEP,
  LOWEST_STEP,
  type ExperienceKey,
  type ExperienceScale,
} from './scales.js';
export { summariseRatings, type Agreement, type RatedScale, type Rating } from './summarise-ratings.js';
