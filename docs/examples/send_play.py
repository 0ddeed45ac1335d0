"""Sends what happens in a game to Glue Trace. The address and the token stand under Play logs."""

import datetime
import json
import queue
import threading
import urllib.request


class PlayLog:
    def __init__(self, address, token):
        self.address = address
        self.token = token
        self.last = 0
        self.waiting = queue.Queue()
        threading.Thread(target=self._send, daemon=True).start()

    def note(self, type, source, **more):
        """Gives the id of the event, to be the cause of others."""
        self.last += 1
        time = datetime.datetime.now(datetime.timezone.utc).isoformat()
        self.waiting.put({"specversion": "1.0", "id": str(self.last), "time": time, "type": type, "source": source, **more})
        return str(self.last)

    def flush(self):
        """Waits until all has been sent."""
        self.waiting.join()

    def _send(self):
        while True:
            events = [self.waiting.get()]
            while len(events) < 500 and not self.waiting.empty():
                events.append(self.waiting.get())
            request = urllib.request.Request(
                self.address,
                data=json.dumps(events).encode("utf-8"),
                headers={
                    "Authorization": "Bearer " + self.token,
                    "Content-Type": "application/cloudevents-batch+json",
                },
            )
            try:
                urllib.request.urlopen(request, timeout=5).close()
            except OSError:
                pass  # A game goes on when nobody listens.
            for _ in events:
                self.waiting.task_done()
