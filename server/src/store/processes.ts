/** Whether another process, which may be in the middle of something, is still there. */
export function isAtWork(pid: number | null): boolean {
  if (pid === null || pid === process.pid) return false;
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}
