/** Called once when the server starts: opens the workspace, so that migrations, sweeps and waiting jobs run at once. */
export function register(): void {
  if (process.env.NEXT_RUNTIME === 'nodejs') {
    // Not awaited: tried, and a server whose start awaits this import never answers its first request (Next 16.4).
    setTimeout(() => void import('./server/workspace').then(({ workspace }) => workspace()), 0);
  }
}
