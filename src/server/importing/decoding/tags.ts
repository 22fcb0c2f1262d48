import { parseFile } from 'music-metadata';
import { addTag, emptySaid, type Said } from '@/core/format/said';
import { plausibleTempo } from '@/core/signal/units';

/** The tags of a compressed file (ID3, Vorbis comments, MP4 atoms), or null where they cannot be read. */
export async function readTags(path: string): Promise<Said | null> {
  try {
    const { common } = await parseFile(path, { duration: false, skipCovers: true });
    const said = emptySaid();
    addTag(said, 'title', common.title ?? '');
    addTag(said, 'artist', common.artist ?? '');
    addTag(said, 'album', common.album ?? '');
    addTag(said, 'date', common.date ?? (common.year ? String(common.year) : ''));
    for (const genre of common.genre ?? []) addTag(said, 'genre', genre);
    for (const comment of common.comment ?? []) addTag(said, 'comment', comment.text ?? '');
    addTag(said, 'copyright', common.copyright ?? '');
    addTag(said, 'licence', common.license ?? '');
    addTag(said, 'composer', (common.composer ?? []).join(', '));
    addTag(said, 'key', common.key ?? '');
    addTag(said, 'made with', common.encodedby ?? common.encodersettings ?? '');
    said.tempoBpm = plausibleTempo(common.bpm ?? 0);
    if (said.tempoBpm !== null) addTag(said, 'tempo', `${said.tempoBpm} bpm`);
    return said;
  } catch {
    return null;
  }
}
