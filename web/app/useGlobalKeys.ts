import { useEffect, useRef } from 'react';
import { useNavigate } from 'react-router';
import { isTyping } from '../ui/isTyping.ts';
import { VIEWS } from './views.ts';

const SECOND_KEY_MS = 1200;

/** `/` finds, `?` shows the keys, `g` and a letter goes to a view. */
export function useGlobalKeys({ find, help }: { readonly find: () => void; readonly help: () => void }): void {
  const navigate = useNavigate();
  const went = useRef(0);
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      const view = VIEWS.find((each) => each.key === event.key);
      if (view && performance.now() - went.current < SECOND_KEY_MS) {
        went.current = 0;
        event.preventDefault();
        void navigate(view.path);
      } else if (event.key === 'g') went.current = performance.now();
      else if (event.key === '/') {
        event.preventDefault();
        find();
      } else if (event.key === '?') help();
    };
    window.addEventListener('keydown', onKey);
    return () => {
      window.removeEventListener('keydown', onKey);
    };
  }, [navigate, find, help]);
}
