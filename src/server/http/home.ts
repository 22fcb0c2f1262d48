const HOME = new Set(['localhost', '127.0.0.1', '[::1]']);

/** What a request says of where it comes from. */
export interface Sender {
  readonly host: string | null;
  readonly origin: string | null;
  /** `Sec-Fetch-Site`; browsers alone send it, and no page can change it (W3C Fetch Metadata). */
  readonly site: string | null;
  /** Whether a person follows a link or types an address: a page is shown, and nothing is done. */
  readonly navigates?: boolean;
}

/**
 * Why a request is not answered, or null where it is: it must name the server by a name of this machine, DNS rebinding being refused
 * by that, and must not come from a page of another site or of another port.
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
