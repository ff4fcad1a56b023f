import { childrenOf, copyOf, durationOf, isNode, schemaOf, textOf, timeNode, rangeNode, type Node } from './nodes.ts';

/** Of a clip: copies that point to its further files, and what is on each. */
type Further = ReadonlyMap<Node, readonly { clip: Node; label: string }[]>;

/**
 * Lays further files of clips in step with them: each track gets as many tracks after it as the most further files of any of its clips, with the same
 * times, gaps, transitions and markers. What is not on a track gets its further files beside it.
 */
export function addParallelTracks(root: Node, further: Further): Node {
  if (further.size === 0) return root;
  const [only, ...beside] = laidOut(root, further);
  return beside.length === 0 ? only : stackOf([only, ...beside]);
}

/** A node, and what comes in step with it. */
function laidOut(node: Node, further: Further): Node[] {
  const copies = further.get(node);
  if (copies) return [node, ...copies.map(({ clip }) => clip)];
  if (isNode(node.tracks)) node.tracks = stacked(laidOut(node.tracks, further));
  if (!Array.isArray(node.children)) return [node];
  const parallels = schemaOf(node) === 'Track' ? parallelsOf(node, further) : [];
  node.children = (node.children as unknown[]).flatMap((child): unknown[] => {
    if (!isNode(child) || (schemaOf(node) === 'Track' && further.has(child))) return [child];
    const inner = laidOut(child, further);
    // On a track one item follows another.
    return schemaOf(node) === 'Track' ? [stacked(inner)] : inner;
  });
  return [node, ...parallels];
}

function stacked(nodes: Node[]): Node {
  return nodes.length === 1 ? nodes[0] : stackOf(nodes);
}

function stackOf(children: Node[]): Node {
  return { OTIO_SCHEMA: 'Stack.1', name: '', children, source_range: null, effects: [], markers: [], metadata: {} };
}

function parallelsOf(track: Node, further: Further): Node[] {
  const clips = childrenOf(track).filter((child) => further.has(child));
  const most = Math.max(0, ...clips.map((clip) => further.get(clip)!.length));
  return Array.from({ length: most }, (_, i) => {
    const labels = clips.map((clip) => further.get(clip)![i]?.label ?? '');
    const names = [...new Set(labels)].filter((label) => label !== '');
    return {
      ...copyOf({ ...track, children: [] }),
      kind: 'Audio',
      name: [textOf(track.name), names.length > 0 ? names.join(', ') : String(i + 2)]
        .filter((part) => part !== null)
        .join(' · '),
      children: inStep(track, (child) => further.get(child)?.[i]?.clip ?? null),
    };
  });
}

/** The items of a track with others in the place of its clips, and gaps where there are none. */
function inStep(track: Node, otherOf: (child: Node) => Node | null): Node[] {
  const children = childrenOf(track);
  const others = children.map(otherOf);
  return children.flatMap((child, i): Node[] => {
    const other = others[i];
    if (other) return [other];
    const schema = schemaOf(child);
    if (schema === 'Gap') return [copyOf(child)];
    // A transition belongs to what it leads from or to.
    if (schema === 'Transition') return others[i - 1] || others[i + 1] ? [copyOf(child)] : [];
    const duration = durationOf(child);
    if (duration) return duration.value === 0 ? [] : [gapOf(duration)];
    // How long it is nobody knows: it keeps its place, and is not heard.
    return schema === 'Clip' || childrenOf(child).length > 0 ? [{ ...copyOf(child), enabled: false }] : [];
  });
}

function gapOf({ value, rate }: { value: number; rate: number }): Node {
  return {
    OTIO_SCHEMA: 'Gap.1',
    ...{ name: '', effects: [], markers: [], metadata: {}, enabled: true },
    source_range: rangeNode(timeNode(0, rate), timeNode(value, rate)),
  };
}
