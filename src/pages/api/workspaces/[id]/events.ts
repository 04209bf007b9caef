import { checked, endpoint, listen, loadWorkspace, sinceQuery, theStore } from '../../../../server'

const HEARTBEAT_MS = 15_000

/** Server-sent events: every change after `since` (or after the last one heard), in order, and whether the database answers. */
/** Bytes that may lie unread before a listener is waited for. */
const MOST_UNREAD = 1_000_000

export const GET = endpoint(async ({ params, request, url, locals }) => {
  // What was heard last says its state: the number, and the mark after a dot.
  const [since = '0', on = ''] = request.headers.get('last-event-id')?.split('.') ?? [
    url.searchParams.get('since') ?? '0',
    url.searchParams.get('on') ?? '',
  ]
  const known = checked({ since, on }, sinceQuery)
  const { id } = await loadWorkspace(theStore(), params['id'] ?? '')
  let end = () => {}
  let isOpen = true
  const stream = new ReadableStream<string>({
    start(controller) {
      const send = (text: string) => {
        // Between the end of a connection and the word of it there may be news still.
        if (controller.desiredSize === null) end()
        else if (isOpen) controller.enqueue(text)
      }
      send('retry: 1000\n\n')
      const heartbeat = setInterval(() => send(': here\n\n'), HEARTBEAT_MS)
      const deafen = listen(
        theStore(),
        id,
        { revision: Number(known.since), lineage: known.on ?? '' },
        {
          tell: (news) => {
            if (news.sort === 'change')
              send(
                `id: ${news.change.revision}.${news.change.lineage}\nevent: change\ndata: ${JSON.stringify(news.change)}\n\n`,
              )
            else send(`event: ${news.sort}\ndata: ${news.sort === 'talk' ? news.talk : '{}'}\n\n`)
          },
          // What this process holds for somebody who does not read is what others lack.
          isReading: () => (locals.unread?.() ?? 0) <= MOST_UNREAD,
          leave: () => {
            end()
            controller.error(new Error('it was not read'))
          },
        },
      )
      end = () => {
        clearInterval(heartbeat)
        deafen()
      }
    },
    cancel: () => {
      isOpen = false
      end()
    },
  })
  return new Response(stream.pipeThrough(new TextEncoderStream()), {
    headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' },
  })
})
