import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { big, flag, maybe, serial, table, text, whole } from '../../../platform/table.js';

/** The setting that says since when contact numbers keep their history, milliseconds; none where they have from the first. */
export const KEPT_SINCE = 'numbers.kept-since';

/**
 * What the gate read of a contact number until it changed: a row for each change, with all of it as it was before. The
 * database keeps it by itself (`migrations/as-of-a-day.ts`); it goes with the number. Where the number stands with
 * consent is not in it: the ledger says that.
 */
export class ContactNumberWasModel extends Model<
  InferAttributes<ContactNumberWasModel>,
  InferCreationAttributes<ContactNumberWasModel>
> {
  declare id: CreationOptional<number>;
  declare contactNumberId: number;
  declare untilAt: number;
  declare country: string;
  declare zones: string;
  declare states: string;
  declare lineType: string;
  declare carrier: string;
  declare carrierKind: string;
  declare reachable: boolean;
  declare lookedUpAt: number | null;
  declare textable: string;
  declare trouble: string;
  declare faultsInReview: boolean;
  declare suppression: string;
  declare wishInReview: boolean;
  declare refusedElsewhere: number;
  declare reassignment: string;
}
export const contactNumberWasTable = table(ContactNumberWasModel, 'contact_number_was', {
  id: serial(),
  contactNumberId: whole(),
  untilAt: big(),
  country: text(),
  zones: text(),
  states: text(),
  lineType: text(),
  carrier: text(),
  carrierKind: text(),
  reachable: flag(),
  lookedUpAt: maybe(big()),
  textable: text(),
  trouble: text(),
  faultsInReview: flag(),
  suppression: text(),
  wishInReview: flag(),
  refusedElsewhere: whole(),
  reassignment: text(),
});
