export {
  useAccessKeysQuery,
  useAccountsQuery,
  useAddAccessKeyMutation,
  useAddAccountMutation,
  useChangeAccountMutation,
  useChangePasswordMutation,
  useDeleteAccessKeyMutation,
  useDevicesQuery,
  useHistoryQuery,
  useMakeSignInCodeMutation,
  useRenewLoggerSecretMutation,
  useSessionQuery,
  useSignDeviceOutMutation,
  useSignInByCodeMutation,
  useSignInMutation,
  useSignOutMutation,
} from './api.js';
export { HistoryRows } from './HistoryRows.js';
export { ObjectHistory } from './ObjectHistory.js';
export { SecretShown } from './SecretShown.js';
