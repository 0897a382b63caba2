import { router } from 'expo-router';

/**
 * For what takes a while: called when it begins, it gives the way to go when it is done, which nobody is taken along who
 * has gone elsewhere in the meantime.
 */
export function fromHere(): (href: string, how?: 'replace' | 'push') => void {
  const here = window.location.pathname;
  return (href, how = 'replace') => {
    if (window.location.pathname === here) router[how](href as never);
  };
}
