import type { Me } from '@mile-mark/contract';
export declare function useSession(): import("@tanstack/react-query").UseQueryResult<{
    me: {
        id: string;
        name: string;
        email: string;
        role: "technician" | "coordinator" | "parts keeper" | "viewer";
        distanceUnit: "mi" | "km";
        thicknessUnit: "in" | "mm" | "1/32 in";
    } | null;
    firstAccountNeeded: boolean;
    today: string;
    demo: boolean;
}, Error>;
/** The person signed in; screens below the shell always have one. */
export declare function useMe(): Me;
export declare function useSignIn(): import("@tanstack/react-query").UseMutationResult<{
    me: {
        id: string;
        name: string;
        email: string;
        role: "technician" | "coordinator" | "parts keeper" | "viewer";
        distanceUnit: "mi" | "km";
        thicknessUnit: "in" | "mm" | "1/32 in";
    } | null;
    firstAccountNeeded: boolean;
    today: string;
    demo: boolean;
}, Error, {
    email: string;
    password: string;
}, unknown>;
export declare function useFirstAccount(): import("@tanstack/react-query").UseMutationResult<{
    me: {
        id: string;
        name: string;
        email: string;
        role: "technician" | "coordinator" | "parts keeper" | "viewer";
        distanceUnit: "mi" | "km";
        thicknessUnit: "in" | "mm" | "1/32 in";
    } | null;
    firstAccountNeeded: boolean;
    today: string;
    demo: boolean;
}, Error, {
    name: string;
    email: string;
    password: string;
}, unknown>;
export declare function useSignOut(): import("@tanstack/react-query").UseMutationResult<null, Error, void, unknown>;
export declare function useSetPreferences(): import("@tanstack/react-query").UseMutationResult<{
    me: {
        id: string;
        name: string;
        email: string;
        role: "technician" | "coordinator" | "parts keeper" | "viewer";
        distanceUnit: "mi" | "km";
        thicknessUnit: "in" | "mm" | "1/32 in";
    } | null;
    firstAccountNeeded: boolean;
    today: string;
    demo: boolean;
}, Error, Pick<{
    id: string;
    name: string;
    email: string;
    role: "technician" | "coordinator" | "parts keeper" | "viewer";
    distanceUnit: "mi" | "km";
    thicknessUnit: "in" | "mm" | "1/32 in";
}, "distanceUnit" | "thicknessUnit">, unknown>;
