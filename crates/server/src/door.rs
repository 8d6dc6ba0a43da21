//! The door: takes connections in, closes slow and idle ones, and tells when a client has gone.
//!
//! The HTTP server behind it listens on a loopback port of its own. It waits for a request's head as long as a client likes and does
//! not notice that a client has left while it works; the door does both.

use std::collections::HashMap;
use std::net::{IpAddr, SocketAddr};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::Duration;

use rocket::tokio;
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::{Semaphore, watch};
use tokio::time::{Instant, timeout_at};

/// Connections at once: a browser keeps up to seven. Each takes three handles.
const MOST: usize = 2048;
/// How long the head of the first request may take.
const HEAD: Duration = Duration::from_secs(10);
/// How long a connection may stay without a byte of an answer: longer than the longest answer and the slowest body.
const IDLE: Duration = Duration::from_secs(90);
/// How long one that was answered is kept for the next request: longer than the pause between two signs of life of what tells of changes. Kept as long as a
/// browser would keep them, those of a hundred people were all that there may be, and nobody else came in.
const KEPT: Duration = Duration::from_secs(25);
const CHUNK: usize = 32 * 1024;

/// Who is at the other end of a connection. The HTTP server itself sees only the door.
#[derive(Debug, Clone)]
pub struct Client {
    /// The machine that the connection comes from.
    pub ip: IpAddr,
    /// Becomes true when the client goes.
    pub gone: watch::Receiver<bool>,
}

/// The clients that are here, by the port that the door's own end of their connection has.
#[derive(Debug, Clone, Default)]
pub struct Clients(Arc<Mutex<HashMap<u16, Client>>>);

impl Clients {
    /// The client behind this port; `None` where it did not come in by the door.
    pub fn behind(&self, port: u16) -> Option<Client> {
        self.all().get(&port).cloned()
    }

    fn all(&self) -> std::sync::MutexGuard<'_, HashMap<u16, Client>> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

/// Handles that so many connections may take, and some for everything else.
pub const HANDLES: u64 = 3 * MOST as u64 + 1000;

/// Lets connections in until the server ends.
pub async fn keep(listener: TcpListener, inner: SocketAddr, clients: Clients) {
    let room = Arc::new(Semaphore::new(MOST));
    loop {
        let Ok(free) = Arc::clone(&room).acquire_owned().await else {
            return;
        };
        match listener.accept().await {
            Ok((client, _)) => {
                let clients = clients.clone();
                tokio::spawn(async move {
                    let _ = through(client, inner, &clients).await;
                    drop(free);
                });
            }
            // Out of file handles, or a connection that was gone already: others may go on.
            Err(error) => {
                tracing::warn!(%error, "a connection");
                tokio::time::sleep(Duration::from_millis(50)).await;
            }
        }
    }
}

/// When a connection ends on which the client spoke last then, and the server then.
fn ends(asked: Instant, answered: Instant) -> Instant {
    if answered > asked {
        answered + KEPT
    } else {
        asked + IDLE
    }
}

async fn through(client: TcpStream, inner: SocketAddr, clients: &Clients) -> std::io::Result<()> {
    let server = TcpStream::connect(inner).await?;
    client.set_nodelay(true)?;
    server.set_nodelay(true)?;
    let port = server.local_addr()?.port();
    let (tell, gone) = watch::channel(false);
    let ip = client.peer_addr()?.ip();
    clients.all().insert(port, Client { ip, gone });
    let (mut from_client, mut to_client) = client.into_split();
    let (mut from_server, mut to_server) = server.into_split();
    let (answered, mut last_answer) = watch::channel(Instant::now());
    let in_ = async {
        let mut chunk = vec![0; CHUNK];
        let mut head: Vec<u8> = Vec::new();
        let (mut whole, began) = (false, Instant::now());
        let mut asked = began;
        loop {
            let until = if whole {
                ends(asked, *last_answer.borrow_and_update())
            } else {
                began + HEAD
            };
            let n = match timeout_at(until, from_client.read(&mut chunk)).await {
                Ok(Ok(n)) => n,
                Ok(Err(_)) => 0,
                // An answer came meanwhile: the connection is not idle.
                Err(_) if whole && ends(asked, *last_answer.borrow()) > Instant::now() => continue,
                Err(_) => 0,
            };
            if n == 0 {
                // Gone, too slow, or idle.
                let _ = tell.send(true);
                return;
            }
            asked = Instant::now();
            if !whole {
                head.extend_from_slice(&chunk[..n]);
                whole = head.windows(4).any(|w| w == b"\r\n\r\n") || head.len() > CHUNK;
            }
            if to_server.write_all(&chunk[..n]).await.is_err() {
                return;
            }
        }
    };
    let out = async {
        let mut chunk = vec![0; CHUNK];
        loop {
            match from_server.read(&mut chunk).await {
                Ok(n) if n > 0 => {
                    let _ = answered.send(Instant::now());
                    // A client that takes nothing more holds nothing up but itself, and not for ever.
                    let given = timeout_at(Instant::now() + IDLE, to_client.write_all(&chunk[..n]));
                    if !matches!(given.await, Ok(Ok(()))) {
                        return;
                    }
                }
                _ => return,
            }
        }
    };
    tokio::select! {
        () = in_ => {}
        () = out => {}
    }
    clients.all().remove(&port);
    Ok(())
}
