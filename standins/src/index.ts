export { digitalGauge, type DigitalGauge, type DigitalGaugeOptions } from './digitalGauge.ts';
export { playDays, telematicsFeed, type FeedDay, type FeedOptions, type FeedVehicle } from './telematicsFeed.ts';
export { supplierStandIn, type SupplierLine, type SupplierMessage, type SupplierOptions } from './supplier.ts';
export { mailStandIn, type TakenMail } from './mail.ts';
