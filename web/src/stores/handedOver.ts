import { create } from 'zustand';

/** Where a file goes in that was dropped elsewhere. */
export type Place = 'study' | 'library';

interface HandedOver {
  file: { place: Place; file: File } | undefined;
  hand: (place: Place, file: File) => void;
  /** The file that was handed to this place; it is taken once. */
  take: (place: Place) => File | undefined;
}

/** A file on its way from where it was dropped to where it goes in. */
export const useHandedOver = create<HandedOver>((set, get) => ({
  file: undefined,
  hand: (place, file) => set({ file: { place, file } }),
  take: (place) => {
    const { file } = get();
    if (file?.place !== place) return undefined;
    set({ file: undefined });
    return file.file;
  },
}));
