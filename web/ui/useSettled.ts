import { useEffect, useState } from 'react';

const SETTLED_MS = 200;

/** What is being typed, once it has stood for a moment: the server is not asked at every letter. */
export function useSettled(text: string): string {
  const [settled, setSettled] = useState(text);
  useEffect(() => {
    const timer = setTimeout(() => {
      setSettled(text);
    }, SETTLED_MS);
    return () => {
      clearTimeout(timer);
    };
  }, [text]);
  return settled;
}
