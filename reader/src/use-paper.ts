import { useEffect, useState } from 'react';

/** Beside the application, under the body: print.css shows it on paper only. */
export function usePaper(): HTMLElement | undefined {
  const [paper, setPaper] = useState<HTMLElement | undefined>();
  useEffect(() => {
    const element = Object.assign(document.createElement('div'), { id: 'paper' });
    element.setAttribute('aria-hidden', 'true');
    document.body.append(element);
    setPaper(element);
    return () => element.remove();
  }, []);
  return paper;
}
