import { begin } from './check-page';

begin();
