export { useGetPlanBasisQuery, useGetPlanQuery, useSavePlanMutation } from './api.js';
