import type { IncomingHttpHeaders } from 'node:http';
import { DomainError } from './domain-error.js';

const LOOPBACK_HOSTS = ['127.0.0.1', 'localhost', '[::1]'];
const READING_METHODS: ReadonlySet<string> = new Set(['GET', 'HEAD']);

/**
 * Refuses requests that a page of another site makes in the same browser. A name that such a site maps to this address comes
 * with a foreign Host, whatever its Origin says; a plain foreign page shows itself by its Origin or by what the browser says
 * of it. Programs send neither.
 */
export class RequestGuard {
  private readonly hosts: ReadonlySet<string>;

  /** `extraHosts`: names this server is reached by beside the loopback ones. */
  constructor(extraHosts: readonly string[]) {
    this.hosts = new Set([...LOOPBACK_HOSTS, ...extraHosts].map((name) => name.toLowerCase()));
  }

  /** Undefined when the request may pass. */
  refusalOf(method: string, headers: IncomingHttpHeaders): DomainError | undefined {
    const { host, origin } = headers;
    if (!this.hosts.has(hostName(host)))
      return new DomainError(
        'wrong-host',
        `Ebrix does not answer under the name "${hostName(host).slice(0, 80)}". Open it by the address it printed when it started, or name the host in EBRIX_HOSTS.`,
      );
    const isCrossSite = headers['sec-fetch-site'] === 'cross-site';
    const isForeign =
      isCrossSite || (origin !== undefined && origin !== `http://${host!}` && origin !== `https://${host!}`);
    // A link may lead here. What another page loads within itself, a stream or a picture, may not.
    const isEmbedded = isCrossSite && headers['sec-fetch-mode'] !== 'navigate';
    if (isEmbedded || (isForeign && !READING_METHODS.has(method)))
      return new DomainError('foreign-page', 'The request comes from a page of another site.');
    return undefined;
  }

  /** A stream stays open and is written to: it is treated like a write. */
  refusalOfUpgrade(headers: IncomingHttpHeaders): DomainError | undefined {
    return this.refusalOf('POST', headers);
  }
}

/** Without the port; an empty name where none was sent. */
function hostName(host: string | undefined): string {
  return (host ?? '').toLowerCase().replace(/:\d{1,5}$/, '');
}
