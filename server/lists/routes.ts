import {
  changeListRows,
  importList,
  listLists,
  previewList,
  putList,
  readList,
  removeList,
} from '../../core/wire/endpoints/lists.js';
import { handles, type Route } from '../http/route.js';
import type { Lists } from './service.js';

export function listRoutes(lists: Lists): Route[] {
  return [
    handles(listLists, async () => ({ lists: await lists.all() })),
    handles(previewList, ({ body }) => lists.preview(body.text, body.heading)),
    handles(readList, async ({ params, query }) =>
      lists.page(params.list, query.search ?? '', query.from ?? 0),
    ),
    handles(putList, async ({ params, body }) => {
      await lists.put(params.list, body);
      return {};
    }),
    handles(importList, async ({ params, body }) => lists.import(params.list, body)),
    handles(changeListRows, async ({ params, body }) => {
      await lists.changeRows(params.list, body as Parameters<Lists['changeRows']>[1]);
      return {};
    }),
    handles(removeList, async ({ params }) => {
      await lists.remove(params.list);
      return {};
    }),
  ];
}
