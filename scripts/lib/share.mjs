import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { hostname, networkInterfaces } from 'node:os';
import { X509Certificate } from 'node:crypto';
import { join } from 'node:path';
import { refuse, say } from './say.mjs';

const DAY_MS = 86_400_000;
const AUTHORITY_DAYS = 3650;
/** Phones refuse certificates that are meant to live longer than thirteen months. */
const CERTIFICATE_DAYS = 390;
const RENEWED_BEFORE_DAYS = 30;

/** Addresses of this machine in the networks it is in. */
export function ownAddresses() {
  return Object.values(networkInterfaces())
    .flat()
    .filter(({ family, internal }) => family === 'IPv4' && !internal)
    .map(({ address }) => address);
}

/**
 * What is needed to answer other devices over TLS: an own certificate by EBRIX_TLS_CERT and EBRIX_TLS_KEY, or one for this machine's
 * addresses, signed by an authority that is made once and trusted by each phone once.
 */
export async function prepareSharing(dataFolder, port) {
  const names = [...ownAddresses(), hostname(), `${hostname()}.local`, ...listOf(process.env.EBRIX_HOSTS)];
  const { EBRIX_TLS_CERT: certificate, EBRIX_TLS_KEY: key } = process.env;
  const own = certificate || key ? ownFiles(certificate, key) : await madeFiles(join(dataFolder, 'share'), names);
  const addresses = [...new Set(names)].map((name) => `https://${name}:${port}`);
  return { ...own, hosts: names, addresses };
}

const listOf = (text = '') =>
  text
    .split(',')
    .map((name) => name.trim())
    .filter(Boolean);

function ownFiles(certificate, key) {
  for (const [name, file] of [
    ['EBRIX_TLS_CERT', certificate],
    ['EBRIX_TLS_KEY', key],
  ])
    if (!file || !existsSync(file)) refuse(`${name} must name a file in PEM; "${file ?? ''}" is not there.`);
  return { certificate, key };
}

async function madeFiles(folder, names) {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const [authority, authorityKey, certificate, key] = [
    'authority.pem',
    'authority-key.pem',
    'certificate.pem',
    'key.pem',
  ].map((name) => join(folder, name));
  const { generate } = await import('selfsigned');
  const until = (days) => new Date(Date.now() + days * DAY_MS);
  const from = () => new Date(Date.now() - DAY_MS);
  const keep = (file, text) => writeFileSync(file, text, { mode: 0o600 });
  if (!existsSync(authority) || !existsSync(authorityKey)) {
    const made = await generate([{ name: 'commonName', value: `Ebrix on ${hostname()}` }], {
      keyType: 'ec',
      algorithm: 'sha256',
      notBeforeDate: from(),
      notAfterDate: until(AUTHORITY_DAYS),
      extensions: [
        { name: 'basicConstraints', cA: true, critical: true },
        { name: 'keyUsage', keyCertSign: true, cRLSign: true, critical: true },
      ],
    });
    keep(authorityKey, made.private);
    keep(authority, made.cert);
    say('> Made a certificate authority of this installation; phones trust it once.');
  }
  if (!isGood(certificate, key, names)) {
    const made = await generate([{ name: 'commonName', value: names[0] }], {
      keyType: 'ec',
      algorithm: 'sha256',
      ca: { key: readFileSync(authorityKey, 'utf8'), cert: readFileSync(authority, 'utf8') },
      notBeforeDate: from(),
      notAfterDate: until(CERTIFICATE_DAYS),
      extensions: [
        { name: 'basicConstraints', cA: false },
        { name: 'keyUsage', digitalSignature: true, critical: true },
        { name: 'extKeyUsage', serverAuth: true },
        {
          name: 'subjectAltName',
          altNames: names.map((name) => (isAddress(name) ? { type: 7, ip: name } : { type: 2, value: name })),
        },
      ],
    });
    keep(key, made.private);
    keep(certificate, made.cert);
  }
  return { certificate, key, authority };
}

const isAddress = (name) => /^\d+(\.\d+){3}$/.test(name);

/** Whether what was made before names every address of now, and lives for a while yet. */
function isGood(certificate, key, names) {
  if (!existsSync(certificate) || !existsSync(key)) return false;
  const made = new X509Certificate(readFileSync(certificate));
  const lives = Date.parse(made.validTo) > Date.now() + RENEWED_BEFORE_DAYS * DAY_MS;
  return lives && names.every((name) => (isAddress(name) ? made.checkIP(name) : made.checkHost(name)) !== undefined);
}
