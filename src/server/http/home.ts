const HOME = new Set(['localhost', '127.0.0.1', '[::1]']);

/** Headers that tell where a request comes from. */
export interface Sender {
  readonly host: string | null;
  readonly origin: string | null;
  /** `Sec-Fetch-Site`, which only browsers send and no page can change (W3C Fetch Metadata). */
  readonly site: string | null;
  /** Whether a person follows a link or types an address: it shows a page and changes nothing. */
  readonly navigates?: boolean;
}

/**
 * The reason to refuse a request, or null: it must name the server by a name of this machine, against DNS rebinding,
 * and must not come from a page of another site or port.
 */
export function refusalOf({ host, origin, site, navigates = false }: Sender): string | null {
  const name = host ?? '';
  if (!HOME.has(name.replace(/:\d+$/, '')))
    return `Requests to the host "${name}" are not answered; use the address that was printed at the start.`;
  if (origin !== null && origin !== `http://${name}`) return `Requests from the origin "${origin}" are not answered.`;
  if ((site === 'cross-site' || site === 'same-site') && !navigates)
    return 'Requests from other sites are not answered.';
  return null;
}
