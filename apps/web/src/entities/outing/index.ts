export { OutingForm } from './OutingForm.js';
export { useListOutingsQuery, useSaveOutingMutation } from './api.js';
