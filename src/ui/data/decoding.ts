/** Progress of the server's decoding of uploads, by the upload's key. */
const listeners = new Map<string, (share: number) => void>();

export const decoding = {
  listen(key: string, listener: (share: number) => void): () => void {
    listeners.set(key, listener);
    return () => listeners.delete(key);
  },
  tell(key: string, share: number): void {
    listeners.get(key)?.(share);
  },
};
