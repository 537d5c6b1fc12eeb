import { useCallback, useState } from 'react';
import PQueue from 'p-queue';

/** Sends what changes the same thing one after the other: two requests at once may reach the server in either order. */
export function useInOrder(): <T>(send: () => Promise<T>) => Promise<T> {
  const [queue] = useState(() => new PQueue({ concurrency: 1 }));
  return useCallback((send) => queue.add(send), [queue]);
}
