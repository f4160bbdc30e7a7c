export {
  importsApi,
  useDiscardImportMutation,
  useListImportsQuery,
  useSplitImportMutation,
  useStageFilesMutation,
  useStartImportMutation,
  useStoreNotebookMutation,
} from './api.js';
