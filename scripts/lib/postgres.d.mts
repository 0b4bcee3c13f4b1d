/**
 * A private PostgreSQL cluster on loopback, in a folder of the checkout. PostgreSQL refuses to run as root:
 * as root its programs run as Debian's `postgres` user. Where that user can't reach the checkout, the folder
 * is under /var/tmp, named by a hash of the checkout.
 *
 * @param name folder of the cluster
 * @param throwaway for tests: no syncing to disk
 * @returns its URL maker, what keeps it up, and a stop, which ends it when nobody else uses it
 */
export function startCluster(name: any, { throwaway }?: {
    throwaway?: boolean | undefined;
}): Promise<{
    url: (database: any) => string;
    /** Makes a database where there is none of this name. */
    ensureDatabase: (database: any) => void;
    /** Starts it again, at the same port, where it ended by itself. @returns whether it runs */
    keepUp: () => boolean;
    stop: () => void;
    /** Ends it at once, whoever uses it: for tests of what happens then. */
    kill: () => import("child_process").SpawnSyncReturns<string>;
}>;
