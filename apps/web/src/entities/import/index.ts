export {
  importsApi,
  useDiscardImportMutation,
  useKeepLogsMutation,
  useListImportsQuery,
  useSplitImportMutation,
  useStageFilesMutation,
  useStartImportMutation,
  useStoreNotebookMutation,
} from './api.js';
