export { PlanStep } from './PlanStep.js';
