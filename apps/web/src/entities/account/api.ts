import {
  ROUTES,
  type AccessKey,
  type AccessKeyInput,
  type Account,
  type AccountChange,
  type AccountInput,
  type Device,
  type HistoryEntry,
  type NewAccessKey,
  type PasswordChange,
  type SessionState,
  type SignIn,
  type SignInCode,
} from '@ebrix/contract';
import { baseApi, TAGS } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const accountApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    session: build.query<SessionState, void>({
      query: () => requestTo(ROUTES.getSession),
      transformResponse: answerOf(ROUTES.getSession),
      providesTags: ['Account'],
    }),
    // Whoever comes in sees everything anew.
    signIn: build.mutation<SessionState, SignIn>({
      query: (body) => requestTo(ROUTES.signIn, { body }),
      transformResponse: answerOf(ROUTES.signIn),
      invalidatesTags: (_, error) => (error ? [] : TAGS),
    }),
    signInByCode: build.mutation<SessionState, string>({
      query: (code) => requestTo(ROUTES.signInByCode, { body: { code } }),
      transformResponse: answerOf(ROUTES.signInByCode),
      invalidatesTags: (_, error) => (error ? [] : TAGS),
    }),
    signOut: build.mutation<SessionState, void>({
      query: () => requestTo(ROUTES.signOut),
      transformResponse: answerOf(ROUTES.signOut),
      invalidatesTags: ['Account'],
    }),
    changePassword: build.mutation<SessionState, PasswordChange>({
      query: (body) => requestTo(ROUTES.changePassword, { body }),
      transformResponse: answerOf(ROUTES.changePassword),
      invalidatesTags: ['Account'],
    }),
    makeSignInCode: build.mutation<SignInCode, void>({
      query: () => requestTo(ROUTES.makeSignInCode),
      transformResponse: answerOf(ROUTES.makeSignInCode),
    }),
    devices: build.query<Device[], void>({
      query: () => requestTo(ROUTES.listDevices),
      transformResponse: answerOf(ROUTES.listDevices),
      providesTags: ['Account'],
    }),
    signDeviceOut: build.mutation<null, string>({
      query: (id) => requestTo(ROUTES.signDeviceOut, { params: { id } }),
      invalidatesTags: ['Account'],
    }),
    accounts: build.query<Account[], void>({
      query: () => requestTo(ROUTES.listAccounts),
      transformResponse: answerOf(ROUTES.listAccounts),
      providesTags: ['Account'],
    }),
    addAccount: build.mutation<Account, AccountInput>({
      query: (body) => requestTo(ROUTES.addAccount, { body }),
      transformResponse: answerOf(ROUTES.addAccount),
      invalidatesTags: ['Account'],
    }),
    changeAccount: build.mutation<Account, { id: string; change: AccountChange }>({
      query: ({ id, change }) => requestTo(ROUTES.changeAccount, { params: { id }, body: change }),
      transformResponse: answerOf(ROUTES.changeAccount),
      invalidatesTags: ['Account'],
    }),
    accessKeys: build.query<AccessKey[], void>({
      query: () => requestTo(ROUTES.listAccessKeys),
      transformResponse: answerOf(ROUTES.listAccessKeys),
      providesTags: ['Account'],
    }),
    addAccessKey: build.mutation<NewAccessKey, AccessKeyInput>({
      query: (body) => requestTo(ROUTES.addAccessKey, { body }),
      transformResponse: answerOf(ROUTES.addAccessKey),
      invalidatesTags: ['Account'],
    }),
    deleteAccessKey: build.mutation<null, string>({
      query: (id) => requestTo(ROUTES.deleteAccessKey, { params: { id } }),
      invalidatesTags: ['Account'],
    }),
    renewLoggerSecret: build.mutation<{ secret: string }, string>({
      query: (id) => requestTo(ROUTES.renewLoggerSecret, { params: { id } }),
      transformResponse: answerOf(ROUTES.renewLoggerSecret),
    }),
    history: build.query<HistoryEntry[], { object?: string; before?: number }>({
      query: (query) => requestTo(ROUTES.history, { query }),
      transformResponse: answerOf(ROUTES.history),
      // Whatever is stored adds to it.
      keepUnusedDataFor: 0,
    }),
  }),
});
export const {
  useSessionQuery,
  useSignInMutation,
  useSignInByCodeMutation,
  useSignOutMutation,
  useChangePasswordMutation,
  useMakeSignInCodeMutation,
  useDevicesQuery,
  useSignDeviceOutMutation,
  useAccountsQuery,
  useAddAccountMutation,
  useChangeAccountMutation,
  useAccessKeysQuery,
  useAddAccessKeyMutation,
  useDeleteAccessKeyMutation,
  useRenewLoggerSecretMutation,
  useHistoryQuery,
} = accountApi;
