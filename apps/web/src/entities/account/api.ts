import type {
  AccessKey,
  AccessKeyInput,
  Account,
  AccountChange,
  AccountInput,
  Device,
  HistoryEntry,
  NewAccessKey,
  PasswordChange,
  SessionState,
  SignIn,
  SignInCode,
} from '@ebrix/contract';
import { baseApi, TAGS } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const accountApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    session: build.query<SessionState, void>({
      query: () => requestTo('getSession'),
      transformResponse: answerOf('getSession'),
      providesTags: ['Account'],
    }),
    // Whoever comes in sees everything anew.
    signIn: build.mutation<SessionState, SignIn>({
      query: (body) => requestTo('signIn', { body }),
      transformResponse: answerOf('signIn'),
      invalidatesTags: (_, error) => (error ? [] : TAGS),
    }),
    signInByCode: build.mutation<SessionState, string>({
      query: (code) => requestTo('signInByCode', { body: { code } }),
      transformResponse: answerOf('signInByCode'),
      invalidatesTags: (_, error) => (error ? [] : TAGS),
    }),
    signOut: build.mutation<SessionState, void>({
      query: () => requestTo('signOut'),
      transformResponse: answerOf('signOut'),
      invalidatesTags: ['Account'],
    }),
    changePassword: build.mutation<SessionState, PasswordChange>({
      query: (body) => requestTo('changePassword', { body }),
      transformResponse: answerOf('changePassword'),
      invalidatesTags: ['Account'],
    }),
    makeSignInCode: build.mutation<SignInCode, void>({
      query: () => requestTo('makeSignInCode'),
      transformResponse: answerOf('makeSignInCode'),
    }),
    devices: build.query<Device[], void>({
      query: () => requestTo('listDevices'),
      transformResponse: answerOf('listDevices'),
      providesTags: ['Account'],
    }),
    signDeviceOut: build.mutation<null, string>({
      query: (id) => requestTo('signDeviceOut', { params: { id } }),
      invalidatesTags: ['Account'],
    }),
    accounts: build.query<Account[], void>({
      query: () => requestTo('listAccounts'),
      transformResponse: answerOf('listAccounts'),
      providesTags: ['Account'],
    }),
    addAccount: build.mutation<Account, AccountInput>({
      query: (body) => requestTo('addAccount', { body }),
      transformResponse: answerOf('addAccount'),
      invalidatesTags: ['Account'],
    }),
    changeAccount: build.mutation<Account, { id: string; change: AccountChange }>({
      query: ({ id, change }) => requestTo('changeAccount', { params: { id }, body: change }),
      transformResponse: answerOf('changeAccount'),
      invalidatesTags: ['Account'],
    }),
    accessKeys: build.query<AccessKey[], void>({
      query: () => requestTo('listAccessKeys'),
      transformResponse: answerOf('listAccessKeys'),
      providesTags: ['Account'],
    }),
    addAccessKey: build.mutation<NewAccessKey, AccessKeyInput>({
      query: (body) => requestTo('addAccessKey', { body }),
      transformResponse: answerOf('addAccessKey'),
      invalidatesTags: ['Account'],
    }),
    deleteAccessKey: build.mutation<null, string>({
      query: (id) => requestTo('deleteAccessKey', { params: { id } }),
      invalidatesTags: ['Account'],
    }),
    renewLoggerSecret: build.mutation<{ secret: string }, string>({
      query: (id) => requestTo('renewLoggerSecret', { params: { id } }),
      transformResponse: answerOf('renewLoggerSecret'),
    }),
    history: build.query<HistoryEntry[], { object?: string; before?: number }>({
      query: (query) => requestTo('history', { query }),
      transformResponse: answerOf('history'),
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
