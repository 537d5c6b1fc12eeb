import { useEffect, useRef } from 'react';

/** Takes files that are dropped anywhere on the window. Without this a near miss would open the file in place of the page. */
export function useWindowDrop(over: (over: boolean) => void, take: (files: readonly File[]) => void): void {
  const taking = useRef({ over, take });
  useEffect(() => {
    taking.current = { over, take };
  });
  useEffect(() => {
    const hasFiles = (event: DragEvent): boolean => event.dataTransfer?.types.includes('Files') ?? false;
    const onOver = (event: DragEvent): void => {
      if (!hasFiles(event)) return;
      event.preventDefault();
      taking.current.over(true);
    };
    const onLeave = (event: DragEvent): void => {
      if (event.relatedTarget === null) taking.current.over(false);
    };
    const onDrop = (event: DragEvent): void => {
      if (!hasFiles(event)) return;
      event.preventDefault();
      taking.current.over(false);
      taking.current.take([...(event.dataTransfer?.files ?? [])]);
    };
    window.addEventListener('dragover', onOver);
    window.addEventListener('dragleave', onLeave);
    window.addEventListener('drop', onDrop);
    return () => {
      window.removeEventListener('dragover', onOver);
      window.removeEventListener('dragleave', onLeave);
      window.removeEventListener('drop', onDrop);
    };
  }, []);
}
