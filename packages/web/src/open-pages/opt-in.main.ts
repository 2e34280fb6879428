import { begin } from './opt-in';

begin(document);
