export { PEOPLE_ENDPOINTS } from './endpoints.ts';
export {
  Credentials,
  Me,
  SessionState,
  FirstAccount,
  Preferences,
  PasswordChange,
  PersonChange,
  NewPerson,
  OwnSession,
  PasswordReset,
  ResetLink,
  PeopleMerged,
  Person,
  PersonMerge,
  type Reader,
  TorqueShown,
} from './schemas.ts';
