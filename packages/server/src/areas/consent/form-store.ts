import { literal, type CreationAttributes } from 'sequelize';
import type { Reader, Writer } from '../../platform/db.js';
import { oneById, pageOf, type PageOrOne } from '../../platform/keyset.js';
import { filedFormTable, type FiledFormModel } from './model.js';

/** A page of the forms that were filed, the last first. */
export async function formsOf(
  r: Reader,
  businessId: string,
  { id, cursor, limit }: PageOrOne,
): Promise<{ rows: FiledFormModel[]; next: string | null }> {
  return pageOf(r.of(filedFormTable), {
    where: { businessId, ...oneById(id) },
    order: [
      { by: 'filed_at', down: true, is: 'number' },
      { by: 'id', down: true, is: 'text' },
    ],
    cursor,
    limit,
  });
}

export async function countForms(r: Reader, businessId: string): Promise<number> {
  return r.of(filedFormTable).count({ where: { businessId } });
}

export async function formById(r: Reader, businessId: string, id: string): Promise<FiledFormModel | null> {
  return r.of(filedFormTable).findOne({ where: { id, businessId } });
}

export async function addForm(w: Writer, form: CreationAttributes<FiledFormModel>): Promise<void> {
  await w.of(filedFormTable).create(form);
}

/** Counts a lot of people for whom it has become the proof, and those who were left as they are. */
export async function countFiled(w: Writer, id: string, people: number, leftOut: number, done: boolean): Promise<void> {
  await w
    .of(filedFormTable)
    .update(
      { people: literal(`people + ${people}`), leftOut: literal(`left_out + ${leftOut}`), done },
      { where: { id } },
    );
}
