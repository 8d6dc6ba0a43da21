//! The door knows which machine a client is, which the HTTP server behind it cannot see.

use std::net::{Ipv4Addr, SocketAddr};

use rocket::tokio;
use tokio::io::AsyncWriteExt;
use tokio::net::{TcpListener, TcpSocket};
use windrift_server::door::{Clients, keep};

#[rocket::async_test]
async fn each_client_is_known_by_its_own_address_and_noticed_when_it_goes() {
    let any = SocketAddr::from((Ipv4Addr::LOCALHOST, 0));
    let (outer, inner) = (
        TcpListener::bind(any).await.unwrap(),
        TcpListener::bind(any).await.unwrap(),
    );
    let at = outer.local_addr().unwrap();
    let clients = Clients::default();
    let door = tokio::spawn(keep(outer, inner.local_addr().unwrap(), clients.clone()));
    for last in [1, 7, 9] {
        // The whole of 127.0.0.0/8 is this machine.
        let from = Ipv4Addr::new(127, 0, 0, last);
        let socket = TcpSocket::new_v4().unwrap();
        socket.bind((from, 0).into()).unwrap();
        let mut client = socket.connect(at).await.unwrap();
        client.write_all(b"GET / HTTP/1.1\r\n\r\n").await.unwrap();
        let (mut served, seen) = inner.accept().await.unwrap();
        assert_eq!(seen.ip(), Ipv4Addr::LOCALHOST, "the server sees the door");
        let mut first = [0];
        tokio::io::AsyncReadExt::read_exact(&mut served, &mut first)
            .await
            .unwrap();
        let mut known = clients.behind(seen.port()).unwrap();
        assert_eq!(known.ip, from);
        assert!(!*known.gone.borrow());
        drop(client);
        known.gone.wait_for(|gone| *gone).await.unwrap();
    }
    door.abort();
}
