export { useGetPlanBasisQuery, useGetPlanQuery, useListOpenSlotsQuery, useSavePlanMutation } from './api.js';
