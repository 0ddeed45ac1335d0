/** What the store is called, in whatever folder it stands. */
export const STORE_NAME = 'glue-trace.db';

/** Whether a file of this name is the store, or stands beside it while it is open. */
export function isStoreFile(name: string): boolean {
  return name.startsWith(STORE_NAME) && ['', '-wal', '-shm', '-journal'].includes(name.slice(STORE_NAME.length));
}
