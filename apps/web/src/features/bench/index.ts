export { useListPartsQuery, useListSetupsQuery } from './api.js';
