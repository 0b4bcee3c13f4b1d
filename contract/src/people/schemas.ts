import { z } from 'zod';
import { DistanceUnit, Id, Name, Role, ThicknessUnit } from '../common.ts';

export const Credentials = z.object({
  email: z.email('An e-mail address such as ada@dairy.example is accepted.').max(200),
  password: z.string().min(1, 'A password is needed.').max(200),
});

const NewPassword = z
  .string()
  .min(10, 'At least 10 characters are accepted.')
  .max(200, 'At most 200 characters are accepted.');

/** In which unit torques are shown first; the stated figure always stands with them. */
export const TorqueShown = z.enum(['as stated', 'N·m', 'lbf·ft']);
export type TorqueShown = z.infer<typeof TorqueShown>;

const PREFERENCES = {
  distanceUnit: DistanceUnit,
  thicknessUnit: ThicknessUnit,
  torqueShown: TorqueShown,
  /** Whether single letters and figures are shortcuts (WCAG 2.1.4 asks that they can be switched off). */
  singleKeys: z.boolean(),
  /** Whether the first walk through the places was taken, or put aside. */
  walked: z.boolean(),
};

/** Depots that somebody is limited to, by name; none where they work at all. */
const Depots = z.array(Name).max(200);
/** Roles that may be limited to depots: the others are of the whole fleet. */
export const LIMITED_ROLES: readonly Role[] = ['technician', 'parts keeper'];
const limits = ({ role, depots = [] }: { role: Role; depots?: string[] | undefined }) =>
  depots.length === 0 || LIMITED_ROLES.includes(role);
const ONLY_LIMITED = {
  path: ['depots'],
  message: 'A technician or a parts keeper may be limited to depots; the others are of the whole fleet.',
};

export const Me = z.object({
  id: Id,
  name: z.string(),
  email: z.string(),
  role: Role,
  depots: z.array(z.string()),
  ...PREFERENCES,
});
export type Me = z.infer<typeof Me>;

export const SessionState = z.object({
  me: Me.nullable(),
  /** True while nobody has an account: the first person makes one. */
  firstAccountNeeded: z.boolean(),
  today: z.string(),
  demo: z.boolean(),
});
export type SessionState = z.infer<typeof SessionState>;

export const FirstAccount = z.object({ name: Name, email: Credentials.shape.email, password: NewPassword });

/** What a person sets for themselves; what is left out stays. */
export const Preferences = z.object(PREFERENCES).partial();
export type Preferences = z.infer<typeof Preferences>;

/** A sign-in of one's own that is open. */
export const OwnSession = z.object({
  id: Id,
  /** What it was opened on, as the browser names itself; blank where it said nothing. */
  device: z.string(),
  since: z.string(),
  current: z.boolean(),
});
export type OwnSession = z.infer<typeof OwnSession>;

/** A link that sets a new password once. */
export const ResetLink = z.object({
  /** Path of this application, with the token; it is told here only. */
  path: z.string(),
  expiresAt: z.string(),
});
export type ResetLink = z.infer<typeof ResetLink>;

/** A new password, by the token of such a link. */
export const PasswordReset = z.object({
  token: z.string().min(20, 'The whole link is needed.').max(100),
  password: NewPassword,
});
export type PasswordReset = z.infer<typeof PasswordReset>;

/** In which units somebody reads. */
export type Reader = Pick<Me, 'distanceUnit' | 'thicknessUnit'>;

export const NewPerson = z
  .object({
    id: Id,
    name: Name,
    role: Role,
    /** Without an e-mail address the person is on record but cannot sign in. */
    email: Credentials.shape.email.optional(),
    password: NewPassword.optional(),
    depots: Depots.optional(),
  })
  .refine(({ email, password }) => (email === undefined) === (password === undefined), {
    path: ['password'],
    message: 'An e-mail address and a password go together.',
  })
  .refine(limits, ONLY_LIMITED);
export type NewPerson = z.infer<typeof NewPerson>;

/** One's own password, changed: the present one is asked for. */
export const PasswordChange = z.object({ current: Credentials.shape.password, next: NewPassword });
export type PasswordChange = z.infer<typeof PasswordChange>;

/** What is corrected of a person, and what stood there when it was: a change of something else in between is told. */
export const PersonChange = z
  .object({
    name: Name,
    role: Role,
    /** With a password it gives an account to somebody who had none. */
    email: Credentials.shape.email.nullable(),
    /** A new password, told to them by whoever sets it; what is left out stays. */
    password: NewPassword.optional(),
    /** What is left out stays; another role than one that may be limited is of the whole fleet again. */
    depots: Depots.optional(),
    seen: z.object({
      name: z.string().max(200),
      role: Role,
      email: z.string().max(200).nullable(),
      depots: Depots.optional(),
    }),
  })
  .refine(limits, ONLY_LIMITED)
  .refine(({ email, password }) => password === undefined || email !== null, {
    path: ['email'],
    message: 'A password needs an e-mail address such as ada@dairy.example with it.',
  });
export type PersonChange = z.infer<typeof PersonChange>;

export const Person = z.object({
  id: Id,
  name: z.string(),
  role: Role,
  email: z.string().nullable(),
  /** Depots that they are limited to, by name; none where they work at all. */
  depots: z.array(z.string()),
  /** Whether they can sign in. */
  signsIn: z.boolean(),
  /** The day their access ended; null while they are here. */
  leftOn: z.string().nullable(),
});
export type Person = z.infer<typeof Person>;

/** Who an entry turned out to be. */
export const PersonMerge = z.object({ into: Id });
export const PeopleMerged = z.object({ id: Id, moved: z.int() });
export type PeopleMerged = z.infer<typeof PeopleMerged>;
