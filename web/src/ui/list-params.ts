import { useSearchParams } from 'react-router';

/** What a list shows, as it stands in the address: its page, and a way to change any of it that leaves nothing empty behind. */
export function useListParams(): { readonly params: URLSearchParams; readonly page: number; readonly go: (changes: Readonly<Record<string, string | null>>) => void } {
  const [params, setParams] = useSearchParams();
  return {
    params,
    page: Math.max(1, Math.trunc(Number(params.get('page') ?? 1)) || 1),
    go: (changes) => setParams((before) => {
      const next = new URLSearchParams(before);
      for (const [name, value] of Object.entries(changes)) if (value === null || value === '') next.delete(name); else next.set(name, value);
      return next;
    }, { replace: true }),
  };
}
