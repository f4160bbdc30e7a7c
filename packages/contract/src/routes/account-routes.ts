import { ADDRESSES } from '../addresses.js';
import { z } from 'zod';
import {
  accessKeyInputSchema,
  accessKeySchema,
  accountChangeSchema,
  accountInputSchema,
  accountSchema,
  codeSignInSchema,
  deviceSchema,
  historyQuerySchema,
  historySchema,
  loggerSecretSchema,
  newAccessKeySchema,
  passwordChangeSchema,
  sessionSchema,
  signInCodeSchema,
  signInSchema,
} from '../accounts.js';
import type { Route } from './route.js';

/** Who may come in, and who did what. */
export const accountRoutes = {
  getSession: {
    ...ADDRESSES.getSession,
    summary: 'Who is asking',
    access: 'anyone',
    answer: sessionSchema,
  },
  signIn: {
    ...ADDRESSES.signIn,
    summary: 'Sign in by name and password',
    access: 'anyone',
    body: signInSchema,
    answer: sessionSchema,
  },
  signInByCode: {
    ...ADDRESSES.signInByCode,
    summary: 'Sign a device in by a code that works once',
    access: 'anyone',
    body: codeSignInSchema,
    answer: sessionSchema,
  },
  signOut: { ...ADDRESSES.signOut, summary: 'Sign out', access: 'anyone', answer: sessionSchema },
  changePassword: {
    ...ADDRESSES.changePassword,
    summary: 'Change one’s own password; every other device is signed out',
    access: 'reader',
    body: passwordChangeSchema,
    answer: sessionSchema,
  },
  makeSignInCode: {
    ...ADDRESSES.makeSignInCode,
    summary: 'A code by which a device of one’s own signs in, once, within ten minutes',
    access: 'reader',
    answer: signInCodeSchema,
  },
  listDevices: {
    ...ADDRESSES.listDevices,
    summary: 'Where one is signed in; an owner sees everybody',
    answer: z.array(deviceSchema),
  },
  signDeviceOut: {
    ...ADDRESSES.signDeviceOut,
    summary: 'Sign a device out',
    access: 'reader',
    answer: null,
  },
  listAccounts: {
    ...ADDRESSES.listAccounts,
    summary: 'Accounts of this installation',
    access: 'owner',
    answer: z.array(accountSchema),
  },
  addAccount: {
    ...ADDRESSES.addAccount,
    summary: 'Add an account; the first is an owner and closes the door behind it',
    access: 'owner',
    body: accountInputSchema,
    answer: accountSchema,
  },
  changeAccount: {
    ...ADDRESSES.changeAccount,
    summary: 'Change role or password of an account, or block it',
    access: 'owner',
    body: accountChangeSchema,
    answer: accountSchema,
  },
  listAccessKeys: {
    ...ADDRESSES.listAccessKeys,
    summary: 'Keys for scripts; an owner sees all, others their own',
    answer: z.array(accessKeySchema),
  },
  addAccessKey: {
    ...ADDRESSES.addAccessKey,
    summary: 'A key for a script, with no more than one’s own role; its secret is shown this once',
    access: 'reader',
    body: accessKeyInputSchema,
    answer: newAccessKeySchema,
  },
  deleteAccessKey: {
    ...ADDRESSES.deleteAccessKey,
    summary: 'Take a key back',
    access: 'reader',
    answer: null,
  },
  renewLoggerSecret: {
    ...ADDRESSES.renewLoggerSecret,
    summary: 'A new secret for a logger, shown this once; the one before stops working',
    answer: loggerSecretSchema,
  },
  getAuthority: {
    ...ADDRESSES.getAuthority,
    summary: 'The certificate authority of this installation, for a device to trust',
    access: 'anyone',
    answer: 'application/x-x509-ca-cert',
  },
  history: {
    ...ADDRESSES.history,
    summary: 'Who did what, newest first; of one thing where it is named',
    query: historyQuerySchema,
    answer: historySchema,
  },
} as const satisfies Readonly<Record<string, Route>>;
