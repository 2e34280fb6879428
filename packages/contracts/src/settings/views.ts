import * as z from 'zod';
import { BusinessPath, Done, endpoint, ObjectPath } from '../endpoint.js';

export const SavedViewShape = z.object({ id: z.string(), name: z.string(), query: z.string(), by: z.string() });
export const listViews = endpoint({
  id: 'views.list',
  summary: 'Saved views of an area',
  method: 'GET',
  path: '/businesses/:businessId/views/:area',
  access: 'viewer',
  params: BusinessPath.extend({ area: z.string().max(20) }),
  answer: z.object({ items: z.array(SavedViewShape) }),
});
export const saveView = endpoint({
  id: 'views.save',
  summary: 'Save the filters of a list under a name',
  method: 'POST',
  path: '/businesses/:businessId/views/:area',
  access: 'coordinator',
  params: BusinessPath.extend({ area: z.string().max(20) }),
  body: z.object({ name: z.string().trim().min(1, 'Name the view.').max(40), query: z.string().max(400) }),
  answer: SavedViewShape,
});
export const dropView = endpoint({
  id: 'views.drop',
  summary: 'Drop a saved view',
  method: 'DELETE',
  path: '/businesses/:businessId/views/:area/:id',
  access: 'coordinator',
  params: ObjectPath.extend({ area: z.string().max(20) }),
  answer: Done,
});
