const KEY = 'mile-mark.depot';

/** The yard this device stands in, chosen on Measure or where torques are looked up; blank for all of them. */
export const yardOfDevice = (): string => localStorage.getItem(KEY) ?? '';

export const chooseYard = (name: string): void => localStorage.setItem(KEY, name);
