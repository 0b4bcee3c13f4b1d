import { useEffect } from 'react';

const NAME = 'Mile Mark';

/**
 * Names the window by the heading of the page that is shown, and puts the focus there when another page came by a link:
 * a screen reader says where one is. A field that took the focus itself keeps it.
 */
export function usePageTitle(pathname: string): void {
  useEffect(() => {
    let first = true;
    const name = () => {
      const heading = document.querySelector('main h1');
      if (!heading?.textContent) return;
      const title = `${heading.textContent.trim()} · ${NAME}`;
      if (document.title !== title) document.title = title;
      const active = document.activeElement;
      if (first && (active === null || active === document.body || active.closest('nav') !== null)) {
        heading.setAttribute('tabindex', '-1');
        (heading as HTMLElement).focus({ preventScroll: true });
      }
      first = false;
    };
    document.title = NAME;
    name();
    // Pages load their part and their data: the heading comes a moment later, and may be another then.
    const watch = new MutationObserver(name);
    watch.observe(document.body, { childList: true, subtree: true, characterData: true });
    return () => watch.disconnect();
  }, [pathname]);
}
