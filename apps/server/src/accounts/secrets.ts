import { createHash, randomBytes, scrypt, timingSafeEqual, type ScryptOptions } from 'node:crypto';
import { promisify } from 'node:util';

const derive = promisify<string, Buffer, number, ScryptOptions, Buffer>(scrypt);
const KEY_BYTES = 32;
/** 64 MB and some 150 ms a guess. */
const COST = { N: 2 ** 16, r: 8, p: 1 } as const;
const MEMORY_BYTES = 192 * 1024 * 1024;

/** A password as it is kept: `scrypt$N$r$p$salt$key`. */
export async function hashPassword(password: string): Promise<string> {
  const salt = randomBytes(16);
  const key = await derive(password.normalize('NFKC'), salt, KEY_BYTES, { ...COST, maxmem: MEMORY_BYTES });
  return ['scrypt', COST.N, COST.r, COST.p, salt.toString('base64url'), key.toString('base64url')].join('$');
}

export async function isPassword(password: string, kept: string): Promise<boolean> {
  const [kind, N, r, p, salt, key] = kept.split('$');
  if (kind !== 'scrypt' || !salt || !key) return false;
  const expected = Buffer.from(key, 'base64url');
  const options = { N: Number(N), r: Number(r), p: Number(p), maxmem: MEMORY_BYTES };
  const given = await derive(password.normalize('NFKC'), Buffer.from(salt, 'base64url'), expected.length, options);
  return timingSafeEqual(given, expected);
}

/** A secret that nobody has to remember: 160 bits, in letters that can be read out. */
export function makeSecret(prefix: string): string {
  return `${prefix}_${randomBytes(20).toString('hex')}`;
}

/** How such a secret is kept: with 160 bits there is nothing to guess, a plain hash will do. */
export function hashSecret(secret: string): Buffer {
  return createHash('sha256').update(secret).digest();
}
