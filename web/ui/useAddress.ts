import { useSearchParams } from 'react-router';

/** What a page is asked for, as its address has it, so that it survives a reload; what is set to nothing leaves the address. */
export function useAddress(): readonly [
  params: URLSearchParams,
  set: (change: Readonly<Record<string, string>>) => void,
  replace: (search: string) => void,
] {
  const [params, setParams] = useSearchParams();
  return [
    params,
    (change) => {
      setParams(
        (before) => {
          const next = new URLSearchParams(before);
          for (const [key, value] of Object.entries(change)) {
            if (value === '') next.delete(key);
            else next.set(key, value);
          }
          return next;
        },
        { replace: true },
      );
    },
    (search) => {
      setParams(new URLSearchParams(search), { replace: true });
    },
  ];
}
