import type { ImportRequest, ImportRow } from '@mile-mark/contract';
export declare function useImports(): import("@tanstack/react-query").UseQueryResult<{
    id: string;
    kind: "services" | "readings" | "vehicles" | "duties" | "models";
    fileName: string;
    counts: {
        accepted: number;
        questioned: number;
        refused: number;
        already: number;
    };
    records: number;
    open: number;
    at: string;
    by: string;
    technician: string | null;
}[], Error>;
export declare function useImportDetail(id: string | undefined): import("@tanstack/react-query").UseQueryResult<{
    id: string;
    kind: "services" | "readings" | "vehicles" | "duties" | "models";
    fileName: string;
    counts: {
        accepted: number;
        questioned: number;
        refused: number;
        already: number;
    };
    records: number;
    open: number;
    at: string;
    by: string;
    technician: string | null;
    header: string[];
    rows: {
        line: number;
        cells: string[];
        outcome: "accepted" | "questioned" | "refused" | "already";
        taken: boolean;
        takeable: boolean;
        reasons: {
            column: number | null;
            outcome: "accepted" | "questioned" | "refused" | "already";
            message: string;
            suggestion: string | null;
        }[];
        notes: string[];
    }[];
}, Error>;
export declare function usePreview(request: ImportRequest | undefined): import("@tanstack/react-query").UseQueryResult<{
    understanding: {
        kind: "services" | "readings" | "vehicles" | "duties" | "models";
        encoding: "utf-8" | "windows-1252";
        delimiter: "," | ";" | "\t" | "|";
        decimalMark: "," | ".";
        dateOrder: "YMD" | "DMY" | "MDY";
        distanceUnit: "mi" | "km";
        thicknessUnit: "in" | "mm" | "1/32 in";
        columns: {
            header: string;
            field: string;
        }[];
        wheelNames: Record<string, {
            axle: number;
            side: "left" | "right";
        }>;
        technicianId: string | null;
        gaugeId: string | null;
        gaugeNames: Record<string, string>;
    };
    fields: {
        field: string;
        label: string;
        needed: boolean;
    }[];
    needs: {
        kind: "technician" | "gauge" | "column";
        name: string | null;
        message: string;
    }[];
    notes: string[];
    remembered: boolean;
    header: string[];
    rows: {
        line: number;
        cells: string[];
        outcome: "accepted" | "questioned" | "refused" | "already";
        taken: boolean;
        takeable: boolean;
        reasons: {
            column: number | null;
            outcome: "accepted" | "questioned" | "refused" | "already";
            message: string;
            suggestion: string | null;
        }[];
        notes: string[];
    }[];
    counts: {
        accepted: number;
        questioned: number;
        refused: number;
        already: number;
    };
    records: number;
}, Error>;
export declare function useCommitImport(): import("@tanstack/react-query").UseMutationResult<{
    id: string;
    kind: "services" | "readings" | "vehicles" | "duties" | "models";
    fileName: string;
    counts: {
        accepted: number;
        questioned: number;
        refused: number;
        already: number;
    };
    records: number;
    open: number;
}, Error, {
    fileName: string;
    id?: string | undefined;
    dryRun?: boolean | undefined;
    contentBase64?: string | undefined;
    text?: string | undefined;
    understanding?: {
        kind?: "services" | "readings" | "vehicles" | "duties" | "models" | undefined;
        encoding?: "utf-8" | "windows-1252" | undefined;
        delimiter?: "," | ";" | "\t" | "|" | undefined;
        decimalMark?: "," | "." | undefined;
        dateOrder?: "YMD" | "DMY" | "MDY" | undefined;
        distanceUnit?: "mi" | "km" | undefined;
        thicknessUnit?: "in" | "mm" | "1/32 in" | undefined;
        columns?: {
            header: string;
            field: string;
        }[] | undefined;
        wheelNames?: Record<string, {
            axle: number;
            side: "left" | "right";
        }> | undefined;
        technicianId?: string | null | undefined;
        gaugeId?: string | null | undefined;
        gaugeNames?: Record<string, string> | undefined;
    } | undefined;
    edits?: Record<string, string[]> | undefined;
    choices?: Record<string, "take" | "leave"> | undefined;
}, unknown>;
export declare function useMendRow(importId: string): import("@tanstack/react-query").UseMutationResult<{
    row: ImportRow;
    done: boolean;
}, Error, {
    line: number;
    action: "take" | "dismiss";
    cells?: string[];
}, unknown>;
