import { create } from 'zustand';

interface WrenchInHand {
  byJoint: Record<string, string>;
  /** The wrench that was used for such a joint last; undefined where none was. */
  toolOf: (joint: string) => string | undefined;
  take: (joint: string, toolId: string) => void;
}

/** Which wrench a person works with at each kind of joint: asked once, kept until another is taken. */
export const useWrenchInHand = create<WrenchInHand>((set, get) => ({
  byJoint: {},
  toolOf: (joint) => get().byJoint[joint],
  take: (joint, toolId) => set({ byJoint: { ...get().byJoint, [joint]: toolId } }),
}));
