export { useGetRideOverviewQuery } from './api.js';
