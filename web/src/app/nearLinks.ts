import { matchRoutes, type RouteObject } from 'react-router';

/**
 * Fetches the code of the screen a link leads to when a pointer or the focus comes near it, so that a click finds it
 * there, and what the screen asks for first.
 */
export function fetchNearLinks(routes: RouteObject[], fetchAnswers: (pathname: string) => void): void {
  const fetched = new Set<string>();
  const near = ({ target }: Event) => {
    const link = target instanceof Element ? target.closest<HTMLAnchorElement>('a[href]') : null;
    if (!link || link.origin !== window.location.origin) return;
    const { pathname } = link;
    if (pathname !== window.location.pathname) fetchAnswers(pathname);
    if (fetched.has(pathname)) return;
    fetched.add(pathname);
    for (const { route } of matchRoutes(routes, pathname) ?? [])
      if (typeof route.lazy === 'function') route.lazy().catch(() => fetched.delete(pathname));
  };
  document.addEventListener('pointerover', near);
  document.addEventListener('focusin', near);
}
