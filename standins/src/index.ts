export { digitalGauge, type DigitalGauge, type DigitalGaugeOptions } from './digitalGauge.ts';
