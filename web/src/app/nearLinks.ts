import { matchRoutes, type RouteObject } from 'react-router';

/** Fetches the code of the screen a link leads to when a pointer or the focus comes near it, so that a click finds it there. */
export function fetchNearLinks(routes: RouteObject[]): void {
  const fetched = new Set<string>();
  const near = ({ target }: Event) => {
    const link = target instanceof Element ? target.closest<HTMLAnchorElement>('a[href]') : null;
    if (!link || link.origin !== window.location.origin || fetched.has(link.pathname)) return;
    const { pathname } = link;
    fetched.add(pathname);
    for (const { route } of matchRoutes(routes, pathname) ?? [])
      if (typeof route.lazy === 'function') route.lazy().catch(() => fetched.delete(pathname));
  };
  document.addEventListener('pointerover', near);
  document.addEventListener('focusin', near);
}
