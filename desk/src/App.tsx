import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Live } from "./api/live";
import { hearNews } from "./api/news";
import { LiveSocket } from "./api/socket";
import { AwayBar, Notices } from "./kit/notice";
import { usePlace } from "./kit/place";
import { Home } from "./rooms/home/Home";
import { ProjectDesk } from "./rooms/ProjectDesk";

export function App() {
  const [live] = useState(() => new Live());
  const [place, go] = usePlace();
  const cache = useQueryClient();
  useEffect(() => {
    live.connect();
    return () => live.close();
  }, [live]);
  useEffect(
    () =>
      live.listen({
        news: (news) => hearNews(cache, news),
        // What was told while the socket was away was not heard.
        open: (is) => {
          if (is) void cache.invalidateQueries();
        },
      }),
    [live, cache],
  );
  return (
    <LiveSocket.Provider value={live}>
      <AwayBar />
      <Notices>
        {place.project ? (
          <ProjectDesk key={place.project} id={place.project} place={place} go={go} />
        ) : (
          <Home go={go} />
        )}
      </Notices>
    </LiveSocket.Provider>
  );
}
