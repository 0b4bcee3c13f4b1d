import type { BrakeBuild, ShopPolicy } from '@mile-mark/core';

/** What the words of a step hang on. */
export interface StepSetting {
  build: BrakeBuild;
  policy: ShopPolicy;
  /** Axle, 1 at the front; undefined for what is of the whole job. */
  axle: number | undefined;
  side: 'left' | 'right' | undefined;
  /** Fluid to draw off, mL. */
  drawOffMl: number;
  bedIn: string;
}

type Words = string | ((at: StepSetting) => string);

const CALIPER_OFF: Record<BrakeBuild['caliper'], string> = {
  sliding: 'Release the caliper: guide pin bolts out, lift it off its bracket.',
  'sliding, pivots up': 'Release the caliper: lower guide pin bolt out, swing it up and tie it there.',
  'sliding, lifts off': 'Release the caliper: both guide pin bolts out, lift it straight off.',
  'sliding, outer spring': 'Release the caliper: outer spring off (eyes covered), caps off, both hex-key pins out.',
  fixed: '',
  air: '',
  unknown: 'Release the caliper as the maker’s manual says: how it is built is not on record.',
};
const BRAKE_OFF: Record<BrakeBuild['parking'], string> = {
  electronic: 'Put the parking brake into service mode with the scan tool; ignition off.',
  'drum in hat': 'Release the parking brake: its shoes sit in the drum of the rotor.',
  'screw-in piston': 'Release the parking brake: its lever works on the piston.',
  'spring brake': '',
  none: 'Release the parking brake.',
};
const HANG = ' Hang it on a hook, never by its hose.';

/** The words of every step, by its name. Common practice, no source; of air brakes from memory, the maker’s manual first. */
export const STEP_WORDS: Record<string, Words> = {
  complaint: 'Read the complaint and the open defects; ask the driver what is unclear.',
  kit: 'Kit complete: hold old against new by axle and side before anything is dismantled.',
  ground: 'Hard level ground, wheels chocked at both ends of the other axle.',
  'fluid level': 'Read the fluid level, between MIN and MAX.',
  'draw off': ({ drawOffMl }) =>
    drawOffMl > 0
      ? `Draw off ${Math.ceil(drawOffMl)} mL of fluid: so much more comes back than there is room for.`
      : 'Draw fluid off first, as the shop does; watch the level.',
  cap: ({ policy }) =>
    policy.reservoir === 'cap off'
      ? 'Take the cap off and lay a clean rag round the neck; watch the level.'
      : 'Loosen the cap and leave it on; mop spilt fluid at once, it eats paint.',
  'nuts cracked': 'Crack the wheel nuts with the wheels on the ground; locking-nut key found.',
  'parking brake': ({ axle, build }) =>
    axle === 1 ? 'Parking brake on, for work at the front.' : BRAKE_OFF[build.parking],
  'spring brakes': 'Air down; spring brakes caged or held off as the maker says.',
  stands: 'Lift at a rated point, set it down on stands; the wheels go under the frame.',
  'as found': 'Measure the pads as found, before they come out, and the rotors that may stay.',
  'wheel off': 'Wheel off. Frozen to the hub: one nut part-way on, strike the tyre from behind.',
  dust: 'Wash the dust off wet.',
  look: 'Look before dismantling: indicator, pins and pads as they sit; a photo helps.',
  'bleeder cracked': 'Crack the bleeder now and nip it up again, while the caliper holds it.',
  'sensor unplugged': 'Unplug the wear sensor, free harness and hose brackets.',
  'adjuster wound back': 'Wind the adjuster back through its shear adapter, by hand.',
  'pads out, fixed': 'Drive the pad pins out, spreader spring off (eyes covered), pads out on the top.',
  'caliper released': ({ build }) => `${CALIPER_OFF[build.caliper]}${HANG}`,
  'pads out, air': 'Pad retainer off, pads out; look at the tappet boots.',
  'body off': `Caliper body off; the rotor needs the room.${HANG}`,
  'test pins': 'Slide pins: do they move by hand?',
  'test piston': 'Piston: does it go home smoothly and flush?',
  'test hose': 'Hose: twist, cracks, kinks?',
  'test bracket': 'Bracket: channels clean, no steps, right corner?',
  'look at boots': 'Boots: torn, rolled or damp?',
  'look for leaks': 'Piston seal and hose joint: dry?',
  'look at rotor': 'Rotor, both faces.',
  'bracket off': 'Bracket bolts out; label the bracket with its corner.',
  'drum shoes backed off': 'Back the parking shoes off before the rotor comes.',
  'rotor off': ({ policy }) =>
    `Rotor off. To be kept: strike only between the studs, or use jack screws.${policy['retaining screws'] === 'leave out' ? ' Its retaining screw stays out.' : ''}`,
  'hub clean': 'Hub face to clean metal, flat, before the rotor goes on; no play.',
  'hub film': 'A thin film on the hub face only; never on studs or nut seats.',
  'parts compared': 'Hold old and new together: diameter, height, vents, holes, indicator, side.',
  'rotor coating': ({ policy }) =>
    policy['new rotor'] === 'keep'
      ? 'Leave the new rotor’s coating; degrease finger marks.'
      : policy['new rotor'] === 'wash'
        ? 'Wash the new rotor.'
        : 'New rotor: an oil film is washed off, a dry coating stays; degrease finger marks.',
  'rotor scuffed': 'Scuff both faces crosswise, 120 to 180 grit, and wash.',
  'rotor on': 'Rotor on, flat, held with its screw or a nut.',
  channels: ({ policy }) =>
    `Bare the bracket’s channels to metal${policy['pad contact points'] === 'dry' ? '.' : ', a thin film under the clips.'}`,
  clips: 'New clips and springs in.',
  'pins greased': 'One pin at a time (lengths differ): clean, rubber-safe grease, let trapped air out, seat the boot.',
  'new boots': 'New pin boots, seated all round.',
  'piston home': ({ build, policy }) =>
    `${build.parking === 'screw-in piston' ? 'Wipe the piston; press and turn it home.' : 'Wipe the pistons and press them home, evenly; never with the new pads.'} ${policy['retracting pistons'] === 'bleeder open' ? 'Bleeder open into the bottle; shut it before the pressure goes.' : 'Bleeder shut; watch the reservoir.'} Boot not rolled out.`,
  'pads in': ({ policy }) =>
    `Pads in by hand: force means clean more.${policy['pad contact points'] === 'thin grease on ears' ? ' Thin grease on the ears, never on a face.' : ''} Indicator where it was.`,
  'pads left': 'Measure the new pads as they sit.',
  'rotor left': 'Rotor as left, at its thinnest.',
  'caliper on': 'Caliper on, hose not twisted.',
  'sensor plugged': 'Sensor and harness in their clips.',
  'washers counted': 'Old sealing washers counted off, new ones on: two a joint.',
  bled: 'Bleed until no bubbles come; the reservoir is never dry. Look at the joint again after pumping.',
  'clearance set': 'Set the running clearance as the maker says, and check that the adjuster works.',
  'faces cleaned': 'Rotor faces cleaned, last of all.',
  'moving test': 'Rotor spins, caliper slides by hand.',
  'bolts marked': 'Every torqued bolt carries its paint mark.',
  pumped: 'Pump until the pads sit, before the other side is opened.',
  'wheel on': 'Wheel on, nuts by hand; down on the ground.',
  'nuts again': 'Wheel nuts gone over once more with the wrench, on the ground.',
  'nuts by a second': 'A second person goes over the wheel nuts with the wrench.',
  'level and cap': 'Level to MAX with the right grade, cap on.',
  'air up': 'Spring brakes back in service, air up to working pressure.',
  'final pump': 'Pump to a firm pedal before the vehicle moves.',
  'leak check': ({ build }) =>
    build.caliper === 'air'
      ? 'Leak check: listen and soap the joints at working pressure.'
      : 'Leak check at every joint, pedal held.',
  'message reset': 'Reset the service message; end the service mode.',
  'yard stop': 'A slow stop in the yard, from walking pace.',
  'bed in': ({ bedIn }) => `Bed in: ${bedIn}`,
  'level again': 'Look at the fluid level again.',
};

/** What the shop does about the thread of a bracket bolt, where it does not leave it to the specification. */
function threadInWords(policy: ShopPolicy): string {
  const locker = policy['bracket bolts'];
  const thread =
    policy['bracket bolt thread'] === 'greased'
      ? ' Thread greased, where the specification does not say otherwise.'
      : '';
  if (locker === 'as the specification says') return thread;
  return `${locker === 'none' ? ' No thread locker.' : ' Medium thread locker on a clean, dry thread.'}${thread}`;
}

/** What to do at a step. */
export function stepInWords(step: string, setting: StepSetting): string {
  if (step === 'torque Bracket bolt') return `Bracket bolt: torque it with the wrench.${threadInWords(setting.policy)}`;
  if (step.startsWith('torque ')) return `${step.slice(7)}: torque it with the wrench.`;
  const words = STEP_WORDS[step];
  return typeof words === 'function' ? words(setting) : (words ?? step);
}

/** Cautions that stand with a step. */
export const STEP_CAUTIONS: Record<string, string> = {
  ground: 'A vehicle that rolls kills: never on a slope, never on the jack alone.',
  stands: 'Stands, never the jack alone.',
  dust: 'Brake dust is harmful: wet, gloves, mask; no compressed air.',
  'draw off': 'Brake fluid harms skin, eyes and paint: gloves, glasses, mop at once.',
  'spring brakes': 'Stored energy: a spring brake that lets go can kill. As the maker says, by who is trained for it.',
  'adjuster wound back': 'Never with a power tool; the shear adapter is there to break.',
  'body off': 'Heavy: hold it before the last bolt is out.',
  'pads out, air': 'Pads and carrier are heavy: lifting gear where the maker says so.',
  'piston home': 'The pedal is never pressed to the floor on old seals.',
  bled: 'Pedal held until the bleeder is shut. Fluid harms skin, eyes and paint.',
  'air up': 'Hands out of the brake before air comes up.',
  'yard stop': 'No traffic before a firm pedal and a slow stop.',
  'bed in': 'On an empty road, with the load the maker allows; stop if the brakes smell or fade.',
};

/** `axle 1 left`, `axle 2`; null for what is of the whole job. */
export function cornerInWords(axle: number | undefined, side: string | undefined): string | null {
  if (axle === undefined) return null;
  return side === undefined ? `axle ${axle}` : `axle ${axle} ${side}`;
}
