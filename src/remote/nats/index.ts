export { type Connects, NatsCarrier } from './nats-carrier.ts';
