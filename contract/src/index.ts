export {
  DistanceUnit,
  Id,
  IsoDate,
  Name,
  Pad,
  Problem,
  Role,
  Side,
  Suspicion,
  ThicknessUnit,
  VehicleClass,
} from './common.ts';
export { mayDo, POLICY, rolesThat, type Action } from './policy.ts';
export { callersOf, type Endpoint, type Room } from './endpoint.ts';
export { ENDPOINTS, type EndpointName } from './endpoints.ts';
