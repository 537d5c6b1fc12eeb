import { Type } from 'typebox';
import { Nothing } from '../../../contract/api/common.ts';
import {
  HotFolderChange,
  HotFolderCreate,
  PresetChange,
  PresetCreate,
  PresetFile,
  PresetView,
  QueueChange,
  QueueCopy,
  QueueView,
  ShopSizes,
} from '../../../contract/api/ticket.ts';
import { presetViews, queueViews } from '../../db/queueViews.ts';
import type { HotFolders } from '../../ingest/hotFolders.ts';
import { Refused, type Shop } from '../../shop.ts';
import { changeHotFolder, createHotFolder, removeHotFolder } from '../../usecases/setup/hotFolders.ts';
import { changePreset, copyPreset, createPreset, deletePreset, importPresets } from '../../usecases/ticket/presets.ts';
import { changeQueue, copyQueue } from '../../usecases/setup/queues.ts';
import { setShopSizes, shopSizes } from '../../usecases/setup/shopSizes.ts';
import { type Route, route } from '../route.ts';

/** What is set up once: queues, hot folders, presets, sizes, hours. */
export function setupRoutes(shop: Shop, folders: HotFolders): Route[] {
  return [...queueRoutes(shop, folders), ...folderRoutes(shop, folders), ...presetRoutes(shop), ...sizeRoutes(shop)];
}

/** Queues: what they give to jobs that arrive. */
function queueRoutes(shop: Shop, folders: HotFolders): Route[] {
  const views = (): QueueView[] => queueViews(shop.db, (id) => folders.stateOf(id));
  const one = (id: string | undefined): QueueView => {
    const found = views().find((queue) => queue.id === id);
    if (!found) throw new Refused(404, 'no-such-queue', `There is no queue ${id ?? ''}.`);
    return found;
  };
  return [
    route({
      method: 'get',
      path: '/api/queues',
      needs: 'see',
      summary: 'Queues with what they give to tickets, and their hot folders',
      answer: Type.Array(QueueView),
      handle: views,
    }),
    route({
      method: 'patch',
      path: '/api/queues/:id',
      needs: 'set up',
      summary: 'Changes what a queue gives to jobs that arrive from now on; tickets that exist stay as they are',
      body: QueueChange,
      answer: QueueView,
      handle: ({ params, body, actor }) => {
        changeQueue(shop, params.id ?? '', body, actor);
        return one(params.id);
      },
    }),
    route({
      method: 'post',
      path: '/api/queues/:id/copy',
      needs: 'set up',
      summary: 'A copy of a queue under a new name, without hot folders',
      body: QueueCopy,
      answer: QueueView,
      status: 201,
      handle: ({ params, body, actor }) => one(copyQueue(shop, params.id ?? '', body.name, actor)),
    }),
  ];
}

/** Hot folders. A folder with files in it is taken only where that is confirmed: they would become jobs. */
function folderRoutes(shop: Shop, folders: HotFolders): Route[] {
  return [
    route({
      method: 'post',
      path: '/api/hot-folders',
      needs: 'set up',
      summary: 'A new hot folder for a queue',
      body: HotFolderCreate,
      answer: Type.Object({ id: Type.String() }),
      status: 201,
      handle: async ({ body, actor }) => {
        const id = await createHotFolder(shop, body, actor);
        await folders.follow();
        return { id };
      },
    }),
    route({
      method: 'patch',
      path: '/api/hot-folders/:id',
      needs: 'set up',
      summary: 'Changes, pauses or resumes a hot folder',
      body: HotFolderChange,
      answer: Nothing,
      handle: async ({ params, body, actor }) => {
        changeHotFolder(shop, params.id ?? '', body, actor);
        await folders.follow();
      },
    }),
    route({
      method: 'delete',
      path: '/api/hot-folders/:id',
      needs: 'set up',
      summary: 'Gives a hot folder up; files that lie in it stay there',
      answer: Nothing,
      handle: async ({ params, actor }) => {
        removeHotFolder(shop, params.id ?? '', actor);
        await folders.follow();
      },
    }),
  ];
}

/** Sizes that the shop calls by name. */
function sizeRoutes(shop: Shop): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/sizes',
      needs: 'see',
      summary: 'Sizes that the shop has named itself',
      answer: ShopSizes,
      handle: () => shopSizes(shop.db),
    }),
    route({
      method: 'put',
      path: '/api/sizes',
      needs: 'set up',
      summary: 'Sets the sizes that the shop has named itself, all at once; tickets keep the millimetres they have',
      body: ShopSizes,
      answer: ShopSizes,
      handle: ({ body, actor }) => {
        setShopSizes(shop, body, actor);
        return shopSizes(shop.db);
      },
    }),
  ];
}

/** Presets: named sets of ticket settings. */
function presetRoutes(shop: Shop): Route[] {
  const one = (id: string): PresetView | undefined => presetViews(shop.db).find((preset) => preset.id === id);
  return [
    route({
      method: 'get',
      path: '/api/presets',
      needs: 'see',
      summary: 'Named sets of ticket settings',
      answer: Type.Array(PresetView),
      handle: () => presetViews(shop.db),
    }),
    route({
      method: 'post',
      path: '/api/presets',
      needs: 'coordinate',
      summary: 'Names a set of ticket settings; a name that is taken is refused',
      body: PresetCreate,
      answer: PresetView,
      status: 201,
      handle: ({ body, actor }) => one(createPreset(shop, body, actor)),
    }),
    route({
      method: 'post',
      path: '/api/presets/import',
      needs: 'coordinate',
      summary: 'Takes presets in from an export; names that are taken get a number',
      body: PresetFile,
      answer: Type.Object({ ids: Type.Array(Type.String()) }),
      status: 201,
      handle: ({ body, actor }) => ({ ids: importPresets(shop, body, actor) }),
    }),
    route({
      method: 'get',
      path: '/api/presets/export',
      needs: 'see',
      summary: 'All presets, or one, as a file to import elsewhere',
      query: Type.Object({ id: Type.Optional(Type.String({ maxLength: 64 })) }),
      answer: PresetFile,
      handle: ({ query, res }) => {
        const wanted = presetViews(shop.db).filter((preset) => query.id === undefined || preset.id === query.id);
        res.attachment(wanted.length === 1 ? `${wanted[0]?.name ?? 'preset'}.preset.json` : 'presets.json');
        return { yellowSpoolPresets: 1 as const, presets: wanted.map(({ name, settings }) => ({ name, settings })) };
      },
    }),
    route({
      method: 'post',
      path: '/api/presets/:id/copy',
      needs: 'coordinate',
      summary: 'A copy of a preset',
      answer: PresetView,
      status: 201,
      handle: ({ params, actor }) => one(copyPreset(shop, params.id ?? '', actor)),
    }),
    route({
      method: 'patch',
      path: '/api/presets/:id',
      needs: 'coordinate',
      summary: 'Renames a preset or sets its values; tickets that carry it keep their copy',
      body: PresetChange,
      answer: PresetView,
      handle: ({ params, body, actor }) => {
        changePreset(shop, params.id ?? '', body, actor);
        return one(params.id ?? '');
      },
    }),
    route({
      method: 'delete',
      path: '/api/presets/:id',
      needs: 'coordinate',
      summary: 'Deletes a preset that no hot folder gives',
      answer: Nothing,
      handle: ({ params, actor }) => {
        deletePreset(shop, params.id ?? '', actor);
      },
    }),
  ];
}
