/** Node 20.19 or a later 20: what the pinned packages were tried on. */
export function checkNode(): void;
/** Where Debian puts PostgreSQL's programs; the newest version found. */
export function postgresBin(): string | undefined;
/** Installs Debian packages that are missing, as root or through sudo; says what to do where neither is possible. */
export function ensurePackages(names: any): void;
/** Installs npm packages where the lock file changed since they were last installed. */
export function ensureModules(): void;
/** Makes the folder in which everything of this machine lives (ignored by git). */
export function ensureLocal(): void;
export const ROOT: string;
export const LOCAL: string;
