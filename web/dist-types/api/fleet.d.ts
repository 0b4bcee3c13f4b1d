export declare function useMileMarks(): import("@tanstack/react-query").UseQueryResult<{
    today: string;
    riskTarget: number;
    refresh: {
        pending: number;
        computedAt: string | null;
    };
    items: {
        unit: string;
        axle: number;
        depot: string;
        class: "pickup" | "van" | "heavy";
        model: string;
        thinnestMm: number;
        newMm: number;
        serviceLimitMm: number;
        odometerNowMi: number;
        milesPerDay: number;
        markOdometerMi: number;
        markDate: string;
        medianOdometerMi: number;
        medianDate: string;
        interval80: {
            fromMi: number;
            toMi: number;
            fromDate: string;
            toDate: string;
        };
        probabilityBelowNow: number;
        evidence: {
            readings: number;
            technicians: number;
            lastDate: string | null;
            earlierReadings: number;
        };
    }[];
}, Error>;
export declare function useVehicle(unit: string | undefined): import("@tanstack/react-query").UseQueryResult<{
    id: string;
    unit: string;
    model: string;
    class: "pickup" | "van" | "heavy";
    depot: string;
    duty: string | null;
    axles: number[];
    odometerMi: number | null;
    today: string;
    riskTarget: number;
    refresh: {
        pending: number;
        computedAt: string | null;
    };
    milesPerDay: {
        mean: number;
        sd: number;
        basis: string;
    } | null;
    odometerNowMi: number | null;
    gvwrKg: number;
    tareKg: number;
    axleDetails: {
        axle: number;
        brake: "hydraulic" | "air";
        brakeDetail: string;
        padNewMm: number;
        backingPlateMm: number;
        padMakerMinMm: number;
        rotorNewMm: number | null;
        rotorDiscardMm: number | null;
        rotorMachineToMm: number | null;
        pistonsMm: string | null;
        brakeShare: number;
        limit: {
            limitMm: number;
            ruling: {
                kind: "law" | "policy" | "maker" | "margin";
                leastMm: number;
                equalityPasses: boolean;
                source: string;
            };
            candidates: {
                kind: "law" | "policy" | "maker" | "margin";
                leastMm: number;
                equalityPasses: boolean;
                source: string;
            }[];
        };
        mark: {
            unit: string;
            axle: number;
            depot: string;
            class: "pickup" | "van" | "heavy";
            model: string;
            thinnestMm: number;
            newMm: number;
            serviceLimitMm: number;
            odometerNowMi: number;
            milesPerDay: number;
            markOdometerMi: number;
            markDate: string;
            medianOdometerMi: number;
            medianDate: string;
            interval80: {
                fromMi: number;
                toMi: number;
                fromDate: string;
                toDate: string;
            };
            probabilityBelowNow: number;
            evidence: {
                readings: number;
                technicians: number;
                lastDate: string | null;
                earlierReadings: number;
            };
        } | null;
        pads: {
            side: "left" | "right";
            pad: "inner" | "outer";
            meanMm: number;
            sdMm: number;
            ratePer1000Mi: number;
            pooled: {
                valueMm: number;
                sdMm: number;
                readings: number;
                technicians: number;
            } | null;
            trace: {
                date: string;
                miles: number;
                meanMm: number;
                sdMm: number;
            }[];
        }[];
        fitted: {
            date: string;
            miles: number;
        } | null;
        workPerMileKj: number | null;
    }[];
    dutyPeriods: {
        id: string;
        duty: {
            id: string;
            name: string;
            stopsPerMile: number;
            mphBeforeStop: number;
            payloadShare: number;
            descentMPerMile: number;
            retarderShare: number;
            towedKg: number;
            milesPerDay: number;
        };
        from: string;
        to: string | null;
        severity: number;
        massKg: number;
        stopsKjPerMile: number;
        descentsKjPerMile: number;
        towingKjPerMile: number;
    }[];
    referenceDuty: string | null;
    services: {
        id: string;
        axle: number;
        date: string;
        odometerMi: number;
        fitted: string;
        recordedBy: string;
    }[];
    readings: {
        id: string;
        inspectionId: string;
        date: string;
        odometerMi: number;
        axle: number;
        side: "left" | "right";
        pad: "inner" | "outer";
        mm: number | null;
        typed: string;
        technician: string;
        gauge: string;
        enteredBy: string;
        enteredAt: string;
        supersedes: string | null;
        supersededBy: string | null;
        reason: string | null;
        answer: "measured_twice" | "leave_to_coordinator" | null;
        suspicion: {
            kind: "plate" | "inches" | "digits" | "thicker_than_new" | "thicker_than_expected" | "thinner_than_expected";
            probability: number;
            expectedMm: number;
            differenceMm: number;
            insteadMm?: number | undefined;
        } | null;
        expectedMm: number | null;
        weight: number | null;
    }[];
}, Error>;
export declare const useVehicles: () => import("@tanstack/react-query").UseQueryResult<{
    id: string;
    unit: string;
    model: string;
    class: "pickup" | "van" | "heavy";
    depot: string;
    duty: string | null;
    axles: number[];
    odometerMi: number | null;
}[], Error>;
export declare const useGauges: () => import("@tanstack/react-query").UseQueryResult<{
    id: string;
    name: string;
    kind: string;
    resolutionMm: number;
    unit: "in" | "mm" | "1/32 in";
    calibrationDue: string | null;
}[], Error>;
export declare const usePeople: () => import("@tanstack/react-query").UseQueryResult<{
    id: string;
    name: string;
    role: "technician" | "coordinator" | "parts keeper" | "viewer";
    email: string | null;
}[], Error>;
export declare const useDuties: () => import("@tanstack/react-query").UseQueryResult<{
    id: string;
    name: string;
    stopsPerMile: number;
    mphBeforeStop: number;
    payloadShare: number;
    descentMPerMile: number;
    retarderShare: number;
    towedKg: number;
    milesPerDay: number;
}[], Error>;
export declare const useSaveInspection: () => import("@tanstack/react-query").UseMutationResult<{
    inspectionId: string;
    unit: string;
    readings: {
        id: string;
        mm: number;
        suspicion?: {
            kind: "plate" | "inches" | "digits" | "thicker_than_new" | "thicker_than_expected" | "thinner_than_expected";
            probability: number;
            expectedMm: number;
            differenceMm: number;
            insteadMm?: number | undefined;
        } | undefined;
    }[];
}, Error, {
    inspection: {
        id: string;
        unit: string;
        gaugeId: string;
        date: string;
        odometer: string | number;
        technicianId?: string | undefined;
        odometerUnit?: "mi" | "km" | undefined;
        note?: string | undefined;
    };
    readings: {
        id: string;
        axle: number;
        side: "left" | "right";
        pad: "inner" | "outer";
        thickness: string | number;
        thicknessUnit?: "in" | "mm" | "1/32 in" | undefined;
        answer?: "measured_twice" | "leave_to_coordinator" | undefined;
    }[];
}, unknown>;
export declare const useCorrectReading: () => import("@tanstack/react-query").UseMutationResult<{
    id: string;
}, Error, {
    readingId: string;
    id: string;
    thickness?: string;
    reason: string;
}, unknown>;
export declare const useAddService: () => import("@tanstack/react-query").UseMutationResult<{
    id: string;
}, Error, {
    id: string;
    unit: string;
    axle: number;
    date: string;
    odometer: string;
    fitted: string;
}, unknown>;
export declare const useChangeDuty: () => import("@tanstack/react-query").UseMutationResult<{
    id: string;
}, Error, {
    unit: string;
    id: string;
    duty: string;
    from: string;
}, unknown>;
export declare const useAddGauge: () => import("@tanstack/react-query").UseMutationResult<{
    id: string;
}, Error, {
    id: string;
    name: string;
    kind: string;
    resolutionMm: number;
    unit: "in" | "mm" | "1/32 in";
    calibrationDue?: string | undefined;
}, unknown>;
export declare const useAddPerson: () => import("@tanstack/react-query").UseMutationResult<{
    id: string;
}, Error, {
    id: string;
    name: string;
    role: "technician" | "coordinator" | "parts keeper" | "viewer";
    email?: string | undefined;
    password?: string | undefined;
}, unknown>;
