/** How this browser alone tells that an order waits. */
import { useState } from "react";
import { hasSound, noticesAre, setSound } from "../../lib/notices.ts";
import { Button } from "../../ui/button.tsx";

export function Here() {
  const [sound, setOn] = useState(hasSound);
  const [notices, setNotices] = useState(noticesAre);
  return (
    <section aria-label="On this browser" className="flex flex-col gap-2">
      <h2 className="font-semibold">On this browser, when an order waits for you</h2>
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={sound}
          onChange={({ target }) => {
            setSound(target.checked);
            setOn(target.checked);
          }}
        />
        Play a sound
      </label>
      <div className="flex items-center gap-3">
        {notices === "granted" ? "Desktop notices are shown." : null}
        {notices === "denied" ? "Desktop notices are forbidden for this site, in the browser's settings." : null}
        {notices === "missing" ? "This browser has no desktop notices." : null}
        {notices === "default" ? (
          <Button onClick={() => void Notification.requestPermission().then(setNotices)}>Allow desktop notices</Button>
        ) : null}
      </div>
    </section>
  );
}
