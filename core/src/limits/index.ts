export {
  COMMERCIAL_GVWR_KG,
  DEFAULT_MARGIN_SHARE,
  ruleApplies,
  serviceLimit,
  SHIPPED_LIMITS,
  type BrakeKind,
  type LimitCandidate,
  type LimitRule,
  type LimitSubject,
  type ServiceLimit,
} from './serviceLimit.ts';
