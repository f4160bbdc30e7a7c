import { createInterface } from 'node:readline/promises';
import { Writable } from 'node:stream';
import { parseArgs } from 'node:util';
import { nameSchema, passwordSchema, ROLES, roleSchema, type Role } from '@ebrix/contract';
import type { z } from 'zod';
import { connect } from '../database/connect.js';
import { AccountRepository } from './account.repository.js';
import { hashPassword, makeSecret } from './secrets.js';

const USAGE = `Usage: npm run account -- list
       npm run account -- add NAME [--role reader|tester|owner] [--generate]
       npm run account -- password NAME [--generate]
       npm run account -- role NAME reader|tester|owner
       npm run account -- block NAME
       npm run account -- unblock NAME
The password is asked for, read from the first line of standard input, or made up with --generate. The first account is an owner.`;

/** What the person at the terminal should read. */
class Refusal extends Error {}

/** Accounts from the command line of the machine: the way in when nobody can sign in any more. */
export async function accountCommand(databaseUrl: string, words: readonly string[]): Promise<number> {
  const database = connect(databaseUrl);
  try {
    const [done, pending] = (await database.migrate.list()) as [readonly unknown[], readonly unknown[]];
    if (pending.length > 0 && done.length > 0)
      throw new Refusal(
        'This database is of an earlier version of Ebrix. Start this version once (npm start); it takes a backup first.',
      );
    if (pending.length > 0) await database.migrate.latest();
    process.stdout.write(`${await run(new AccountRepository(database), words)}\n`);
    return 0;
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    process.stderr.write(`${error.message}\n`);
    return 1;
  } finally {
    await database.destroy();
  }
}

async function run(accounts: AccountRepository, words: readonly string[]): Promise<string> {
  const { values, positionals } = parseArgs({
    args: [...words],
    allowPositionals: true,
    strict: false,
    options: { role: { type: 'string' }, generate: { type: 'boolean' } },
  });
  const [verb = '', name = '', word = ''] = positionals;
  const known = await accounts.list();
  const isGenerated = values.generate === true;
  if (verb === 'list')
    return known.length === 0
      ? 'There are no accounts: Ebrix answers this machine only, and everything is open there.'
      : known.map((one) => `${one.name}: ${one.role}${one.isBlocked ? ', blocked' : ''}`).join('\n');
  if (verb === 'add') {
    const isFirst = known.length === 0;
    const role = isFirst
      ? 'owner'
      : read(roleSchema, values.role ?? 'tester', `The role is one of ${ROLES.join(', ')}.`);
    const plain = read(nameSchema, name, 'Give a name: npm run account -- add NAME');
    if (known.some((one) => one.name.toLowerCase() === plain.toLowerCase()))
      throw new Refusal(`There is an account "${plain}" already.`);
    const password = await askPassword(isGenerated);
    await accounts.insert({ name: plain, role, password: '' }, await hashPassword(password), isFirst);
    return `${plain} may come in now, as ${role}.${isGenerated ? ` Password: ${password}` : ''}`;
  }
  const account = known.find((one) => one.name.toLowerCase() === name.toLowerCase());
  if (!['password', 'role', 'block', 'unblock'].includes(verb)) throw new Refusal(USAGE);
  if (!account) throw new Refusal(`There is no account "${name}". ${known.map((one) => one.name).join(', ')}`);
  const change = async (to: { role?: Role; isBlocked?: boolean; password?: string }): Promise<void> => {
    const outcome = await accounts.update(account.id, account.version, {
      role: to.role ?? account.role,
      isBlocked: to.isBlocked ?? account.isBlocked,
      password: to.password ?? null,
    });
    if (outcome === 'last-owner')
      throw new Refusal('This is the last owner: somebody has to be able to let others in.');
    if (outcome === 'changed-meanwhile') throw new Refusal('It was changed meanwhile. Try again.');
  };
  if (verb === 'role') {
    const role = read(roleSchema, word, `The role is one of ${ROLES.join(', ')}.`);
    await change({ role });
    return `${account.name} is ${role} now.`;
  }
  if (verb === 'password') {
    const password = await askPassword(isGenerated);
    await change({ password: await hashPassword(password) });
    return `Set; ${account.name} was signed out everywhere.${isGenerated ? ` Password: ${password}` : ''}`;
  }
  await change({ isBlocked: verb === 'block' });
  return verb === 'block'
    ? `${account.name} is blocked, and signed out everywhere.`
    : `${account.name} may come in again.`;
}

function read<T extends z.ZodType>(schema: T, value: unknown, otherwise: string): z.output<T> {
  const parsed = schema.safeParse(value);
  if (!parsed.success) throw new Refusal(otherwise);
  return parsed.data;
}

async function askPassword(isGenerated: boolean): Promise<string> {
  if (isGenerated) return makeSecret('pass').slice(0, 25);
  const isTerminal = process.stdin.isTTY;
  // What is typed is not shown.
  const silent = new Writable({ write: (_chunk, _encoding, done) => done() });
  if (isTerminal) process.stdout.write('Password (not shown): ');
  const lines = createInterface({ input: process.stdin, output: silent, terminal: isTerminal });
  const line = await lines.question('');
  lines.close();
  if (isTerminal) process.stdout.write('\n');
  const parsed = passwordSchema.safeParse(line);
  if (!parsed.success) throw new Refusal(`The password: ${parsed.error.issues[0]!.message}`);
  return parsed.data;
}
