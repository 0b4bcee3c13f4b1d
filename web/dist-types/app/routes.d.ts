/** One chunk a screen. */
export declare const router: import("react-router").DataRouter;
