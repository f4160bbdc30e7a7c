export { plansApi, useGetPlanQuery } from './api.js';
export { PlanStep } from './PlanStep.js';
