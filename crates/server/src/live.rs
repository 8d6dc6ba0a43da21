//! One ear for all pages: what PostgreSQL tells of changes, handed to every page that is open at this server.

use std::sync::Arc;
use std::time::Duration;

use rocket::tokio::sync::broadcast;
use rocket::tokio::time::sleep;
use windrift_store::Store;

/// Changes that a slow page may be behind; one that is farther behind is told that it missed something.
const BEHIND: usize = 512;
/// PostgreSQL is asked again after so long, where it is away.
const AGAIN: Duration = Duration::from_millis(500);

/// Told where something may have been missed: whoever hears it fetches anew what they show.
pub const MISSED: &str = r#"{"what":"missed"}"#;

/// What is told, to whoever listens.
#[derive(Clone)]
pub struct Live(broadcast::Sender<Arc<str>>);

impl Default for Live {
    fn default() -> Live {
        Live(broadcast::channel(BEHIND).0)
    }
}

impl Live {
    /// Hears everything from now on.
    pub fn hear(&self) -> broadcast::Receiver<Arc<str>> {
        self.0.subscribe()
    }

    /// Listens to the database until the server ends, whatever happens to the connection.
    pub async fn keep_listening(self, store: Store) {
        let mut before = false;
        loop {
            match store.listen().await {
                Ok(mut listener) => {
                    if before {
                        let _ = self.0.send(MISSED.into());
                    }
                    before = true;
                    loop {
                        match listener.next().await {
                            // Nobody may be there to hear it; that is no error.
                            Ok(Some(told)) => drop(self.0.send(told.into())),
                            Ok(None) => drop(self.0.send(MISSED.into())),
                            Err(error) => {
                                tracing::warn!(%error, "listening to changes");
                                break;
                            }
                        }
                    }
                }
                Err(error) => tracing::warn!(%error, "listening to changes"),
            }
            sleep(AGAIN).await;
        }
    }
}
