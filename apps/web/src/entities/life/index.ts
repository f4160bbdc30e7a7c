export {
  useAddConversionMutation,
  useAddEntriesMutation,
  useArchiveConversionMutation,
  useChangeConversionMutation,
  useDueEverywhereQuery,
  useGetLifeQuery,
  useListConversionsQuery,
  useLogbookSettingsQuery,
  useReliabilityQuery,
  useSaveLogbookSettingsMutation,
} from './api.js';
export { DueRows } from './DueRows.js';
export { emptyDraft, entryOf } from './entry-draft.js';
export { EntryForm, type SubjectChoice } from './EntryForm.js';
export { EntryList } from './EntryList.js';
export { entryWords } from './entry-words.js';
export { useSendEntries } from './entry-queue.js';
export { useIntoLogbook } from './use-into-logbook.js';
export { LifeView } from './LifeView.js';
export { sendWaiting } from './waiting-entries.js';
