import { useEffect, useState } from 'react';

const SETTLED_MS = 200;

/**
 * What is being typed, once it has stood for a moment: the server is not asked at every letter.
 * @param afterMs how long it has to stand
 */
export function useSettled(text: string, afterMs = SETTLED_MS): string {
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => {
      setSettled(text);
    }, afterMs);
    return () => {
      clearTimeout(timer);
    };
  }, [text, afterMs]);
  return settled;
}
