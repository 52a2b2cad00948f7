/** Called by Next once, when the server starts: the threads of reports are ready before somebody asks. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return;
  const { startReports } = await import('@/services/reports');
  startReports();
}
