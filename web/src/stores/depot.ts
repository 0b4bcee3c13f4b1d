const KEY = 'mile-mark.depot';

/** The depot this device stands in, chosen on Measure or where torques are looked up; blank for all of them. */
export const depotOfDevice = (): string => localStorage.getItem(KEY) ?? '';

export const chooseDepot = (name: string): void => localStorage.setItem(KEY, name);
