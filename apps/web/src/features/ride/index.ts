export { useGetRidePlaceQuery } from './api.js';
