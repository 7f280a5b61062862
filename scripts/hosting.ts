import { createPrivateKey, X509Certificate } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { isIP } from 'node:net';
import { userPath, UsageError, UserError } from './places.ts';

/** How a server is reached. */
export interface Hosting {
  readonly host: string;
  readonly port: number | undefined;
  /** Files of its own certificate and key; null speaks plain HTTP. */
  readonly tls: { readonly cert: string; readonly key: string } | null;
  /** Addresses of the proxy in front of it, which is believed when it says who asks; null believes nobody. */
  readonly proxy: string | null;
  /** Names it is reached under, beside this machine's own for itself. */
  readonly names: readonly string[];
}

export const ON_LOOPBACK: Hosting = { host: '127.0.0.1', port: undefined, tls: null, proxy: null, names: [] };

const isLoopback = (host: string): boolean => /^127(\.\d{1,3}){3}$|^::1$|^localhost$/.test(host);

function read(path: string, what: string): string {
  try {
    return readFileSync(path, 'utf8');
  } catch (error) {
    throw new UserError(`The ${what} ${path} cannot be read: ${(error as NodeJS.ErrnoException).code}.`);
  }
}

/**
 * Checks a certificate and its key against each other, today's date and the names of the workshop; answers the names
 * it is for. Throws UserError with what does not fit.
 */
export function namesOfCertificate(
  files: { readonly cert: string; readonly key: string },
  wanted: readonly string[],
  now: Date,
): string[] {
  let certificate: X509Certificate;
  let key: ReturnType<typeof createPrivateKey>;
  try {
    certificate = new X509Certificate(read(files.cert, 'certificate'));
  } catch (error) {
    if (error instanceof UserError) throw error;
    throw new UserError(`${files.cert} is no certificate in PEM form.`);
  }
  try {
    key = createPrivateKey(read(files.key, 'key'));
  } catch (error) {
    if (error instanceof UserError) throw error;
    throw new UserError(`${files.key} is no private key in PEM form, or it asks for a pass phrase.`);
  }
  if (!certificate.checkPrivateKey(key))
    throw new UserError(`The key ${files.key} does not belong to the certificate ${files.cert}; nothing was started.`);
  if (new Date(certificate.validTo) < now)
    throw new UserError(`The certificate ${files.cert} ended on ${certificate.validTo}. Renew it, then start again.`);
  if (new Date(certificate.validFrom) > now)
    throw new UserError(`The certificate ${files.cert} begins only on ${certificate.validFrom}.`);
  for (const name of wanted)
    if (isIP(name) === 0 ? certificate.checkHost(name) === undefined : certificate.checkIP(name) === undefined)
      throw new UserError(
        `The certificate ${files.cert} is not for ${name}; it is for ${certificate.subjectAltName ?? certificate.subject}.`,
      );
  return (certificate.subjectAltName ?? '')
    .split(', ')
    .map((entry) => entry.replace(/^(DNS|IP Address):/, ''))
    .filter((name) => name !== '' && !name.includes('*'));
}

/**
 * How the server is to be reached, from the flags of a command. Throws UsageError where a network would see it without
 * TLS and without a proxy that is named, UserError where a certificate does not fit.
 */
export function hostingFrom(
  values: Readonly<Record<string, string>>,
  port: number | undefined,
  now = new Date(),
): Hosting {
  const host = values['host'] ?? '127.0.0.1';
  if (isIP(host) === 0 && host !== 'localhost')
    throw new UsageError(
      `--host must be an address of this machine, such as 192.168.1.20 or 0.0.0.0 for all, not “${host}”.`,
    );
  const named = (values['name'] ?? '')
    .split(',')
    .map((name) => name.trim())
    .filter(Boolean);
  const [cert, key, proxy] = [values['tls-cert'], values['tls-key'], values['behind']];
  if ((cert === undefined) !== (key === undefined))
    throw new UsageError('A certificate and its key go together: say --tls-cert FILE and --tls-key FILE.');
  const tls = cert === undefined || key === undefined ? null : { cert: userPath(cert), key: userPath(key) };
  if (!isLoopback(host) && tls === null && proxy === undefined)
    throw new UsageError(
      `On ${host} everybody on the network could read passwords as they are typed. Give a certificate with --tls-cert and --tls-key, or name the proxy that speaks TLS with --behind ADDRESS; nothing was started.`,
    );
  if (proxy !== undefined && named.length === 0)
    throw new UsageError('Behind a proxy, say the name people type with --name, such as --name shop.example.');
  if (proxy !== undefined)
    for (const one of proxy.split(','))
      if (isIP(one.trim().replace(/\/\d+$/, '')) === 0)
        throw new UsageError(`--behind must name the proxy by its address, such as 127.0.0.1, not “${one}”.`);
  const certified = tls === null ? [] : namesOfCertificate(tls, named, now);
  const own = isLoopback(host) || host === '0.0.0.0' || host === '::' ? [] : [host];
  return { host, port, tls, proxy: proxy ?? null, names: [...new Set([...named, ...certified, ...own])] };
}

/** Where people reach it, as it is printed. */
export const addressOf = ({ host, tls, proxy, names }: Hosting, port: number): string => {
  if (proxy !== null) return `https://${names[0]!}`;
  const name = isLoopback(host) ? '127.0.0.1' : (names[0] ?? host);
  return `${tls === null ? 'http' : 'https'}://${name.includes(':') ? `[${name}]` : name}:${port}`;
};
