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
  Person,
  type Reader,
  TorqueShown,
} from './schemas.ts';
