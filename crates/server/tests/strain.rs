//! Strain: files that are made to hurt, computation that asks for too much, many clients at once, and a server that is started,
//! stopped and kept waiting. Nothing here measures time: what is asked is who is answered, and what.

use std::io::{Read, Write};
use std::net::{TcpListener, TcpStream};
use std::process::{Child, Command, Stdio};
use std::time::Duration;

use crate::common::{Api, lettering, token_of};
use serde_json::{Value, json};
use uuid::Uuid;
use windrift_testkit::{Cluster, project, small_shop};

/// Drawings that grow when they are read, each with what it is refused by. The first asked for 3.58 TB.
fn hostile() -> Vec<(&'static str, Vec<u8>)> {
    let svg = |inner: &str| {
        format!("<svg xmlns=\"http://www.w3.org/2000/svg\" xmlns:xlink=\"http://www.w3.org/1999/xlink\" width=\"100mm\" height=\"100mm\" viewBox=\"0 0 100 100\">{inner}</svg>").into_bytes()
    };
    let dxf =
        |inner: &str| format!("0\nSECTION\n2\nENTITIES\n{inner}0\nENDSEC\n0\nEOF\n").into_bytes();
    let rectangles: String = (0..19_000)
        .map(|n| {
            format!(
                "<path d=\"M{0} {0}h9000v9000h-9000z\"/>",
                f64::from(n) * 0.01
            )
        })
        .collect();
    let entities = format!(
        "<!DOCTYPE svg [<!ENTITY a \"{}\">{}]>",
        "M0 0h1 ".repeat(8),
        (0..9)
            .map(|n| format!(
                "<!ENTITY {} \"{}\">",
                char::from(b'b' + n),
                format!("&{};", char::from(b'a' + n)).repeat(10)
            ))
            .collect::<String>()
    );
    let copies: String = (0..12)
        .map(|n| {
            format!(
                "<g id=\"g{}\">{}</g>",
                n + 1,
                format!("<use xlink:href=\"#g{n}\"/>").repeat(10)
            )
        })
        .collect();
    let corners: String = (0..4000)
        .map(|n| format!("L{} {}", n % 97, n % 89))
        .collect();
    let rules: String = (0..4000)
        .map(|n| format!(".c{n} > g path:first-child {{ fill: red }} "))
        .collect();
    let paths = "<path class=\"c1\" d=\"M0 0h9v9h-9z\"/>".repeat(19_000);
    let spline = |degree: usize| {
        let knots: String = (0..degree * 2 + 2).map(|n| format!("40\n{n}\n")).collect();
        let points: String = (0..=degree)
            .map(|n| format!("10\n{n}\n20\n{}\n", n % 7))
            .collect();
        format!(
            "0\nSPLINE\n70\n8\n71\n{degree}\n72\n{}\n73\n{}\n{knots}{points}",
            degree * 2 + 2,
            degree + 1
        )
    };
    let zigzag: String = (0..150_000)
        .map(|n| format!("L{} {}", n % 2 * 90, f64::from(n) * 0.0006))
        .collect();
    vec![
        (
            "coordinates",
            svg("<path d=\"M0 0C1e30 1e30 -1e30 1e30 1e30 0Z\"/>"),
        ),
        (
            "an arc a kilometre wide",
            svg("<path d=\"M0 0A1e9 1e9 0 1 1 1 1Z\"/>"),
        ),
        ("overlapping rectangles", svg(&rectangles)),
        (
            "entities",
            [entities.as_bytes(), &svg("<path d=\"&j;\"/>")].concat(),
        ),
        (
            "copies of copies",
            svg(&format!(
                "<g id=\"g0\"><rect width=\"9\" height=\"9\"/></g>{copies}<use xlink:href=\"#g12\"/>"
            )),
        ),
        (
            "markers",
            svg(&format!(
                "<marker id=\"m\"><path d=\"M0 0{corners}Z\"/></marker><path marker-mid=\"url(#m)\" d=\"M0 0{corners}Z\"/>"
            )),
        ),
        ("styles", svg(&format!("<style>{rules}</style>{paths}"))),
        (
            "nested groups",
            svg(&format!(
                "{}<rect width=\"9\" height=\"9\"/>{}",
                "<g>".repeat(60_000),
                "</g>".repeat(60_000)
            )),
        ),
        (
            "a zigzag that crosses itself",
            svg(&format!("<path d=\"M0 0{zigzag}L45 -20 L45 200Z\"/>")),
        ),
        ("a spline of degree 1500", dxf(&spline(1500))),
        (
            "circles a thousand kilometres wide",
            dxf(&"0\nCIRCLE\n10\n0\n20\n0\n40\n1000000000\n".repeat(200)),
        ),
        (
            "bulges",
            dxf(&format!(
                "0\nLWPOLYLINE\n90\n9000\n70\n1\n{}",
                "10\n0\n20\n0\n42\n1e9\n10\n900000\n20\n0\n42\n0.99\n".repeat(4500)
            )),
        ),
        (
            "circles without end",
            dxf(&"0\nCIRCLE\n10\n0\n20\n0\n40\n900000\n".repeat(15_000)),
        ),
    ]
}

/// Pixels, declared in a few bytes: 20 000 by 20 000 of one colour.
fn wide_picture() -> Vec<u8> {
    let crc = |bytes: &[u8]| {
        !bytes.iter().fold(!0_u32, |crc, b| {
            (0..8).fold(crc ^ u32::from(*b), |c, _| {
                if c & 1 == 1 {
                    c >> 1 ^ 0xedb8_8320
                } else {
                    c >> 1
                }
            })
        })
    };
    let chunk = |kind: &[u8], data: &[u8]| {
        let body = [kind, data].concat();
        [
            &(data.len() as u32).to_be_bytes()[..],
            &body,
            &crc(&body).to_be_bytes(),
        ]
        .concat()
    };
    let size = 20_000_u32.to_be_bytes();
    let header = [&size[..], &size, &[8, 2, 0, 0, 0]].concat();
    [
        b"\x89PNG\r\n\x1a\n".to_vec(),
        chunk(b"IHDR", &header),
        chunk(b"IDAT", &[0x78, 0x9c, 3, 0]),
        chunk(b"IEND", b""),
    ]
    .concat()
}

#[rocket::async_test]
async fn files_that_are_made_to_hurt_are_refused_in_words_and_hurt_nobody() {
    let api = Api::start().await;
    let at = api.shop.side;
    for (what, file) in hostile() {
        for path in [
            format!("/api/sides/{at}/kit-file?unit=millimetre"),
            format!("/api/sides/{at}/outline-file?unit=millimetre"),
        ] {
            let answer = api.raw(&path, &file).await;
            assert_eq!(answer.status, 422, "{what}: {}", answer.body);
            let told = answer.body["detail"].as_str().unwrap();
            assert!(told.len() > 30 && told.ends_with('.'), "{what}: {told}");
        }
    }
    let wide = api
        .raw(
            &format!("/api/jobs/{}/photos?photo={}", api.shop.job, Uuid::now_v7()),
            &wide_picture(),
        )
        .await;
    assert!(
        wide.body["detail"].as_str().unwrap().contains("64 million"),
        "{}",
        wide.body
    );
    // A typeface damaged at a hundred places: taken or refused, never a crash, and the next one is taken.
    let whole = include_bytes!("../../core/fonts/saira-stencil-one.ttf");
    for n in 0..60_usize {
        let mut damaged = whole.to_vec();
        for k in 0..40 {
            let at = (n * 7919 + k * 104_729) % damaged.len();
            damaged[at] = damaged[at].wrapping_mul(31).wrapping_add(n as u8);
        }
        let answer = api
            .raw(&format!("/api/shop/typefaces?name=Bad{n}"), &damaged)
            .await;
        assert!(matches!(answer.status, 200 | 422), "{}", answer.body);
        if answer.status == 200 {
            api.call(
                "DELETE",
                &format!(
                    "/api/shop/typefaces/{}",
                    answer.body["id"]
                        .as_str()
                        .unwrap()
                        .trim_start_matches("own-")
                ),
                Value::Null,
                &[],
            )
            .await;
        }
    }
    let piece = api.piece(lettering("TERN", "12", "48", "27 3/4")).await;
    assert_eq!(
        api.get(&format!("/api/pieces/{piece}/hang")).await["pieces"],
        1
    );
}

/// Writes the hostile files into a folder, for tools/hostile to measure: not a test.
#[test]
#[ignore = "writes files for tools/hostile"]
fn write_hostile_files() {
    let folder = project().join("target/hostile");
    std::fs::create_dir_all(&folder).unwrap();
    for (what, file) in hostile() {
        std::fs::write(
            folder.join(format!("{}.drawing", what.replace(' ', "-"))),
            file,
        )
        .unwrap();
    }
    std::fs::write(folder.join("wide-picture.photo"), wide_picture()).unwrap();
}

/// Every drawing that the drawing programs of the demo and of other tests wrote is still read.
#[rocket::async_test]
async fn honest_files_are_read_as_before() {
    let api = Api::start().await;
    let square = b"<!DOCTYPE svg PUBLIC \"-//W3C//DTD SVG 1.1//EN\" \"x.dtd\" [<!ENTITY ns \"http://www.w3.org/2000/svg\">]><svg xmlns=\"&ns;\" width=\"100mm\" height=\"50mm\" viewBox=\"0 0 100 50\"><g id=\"a\"><rect width=\"40\" height=\"20\"/></g><use href=\"#a\" x=\"50\" y=\"20\"/></svg>";
    let kit = api
        .raw(
            &format!(
                "/api/sides/{}/kit-file?unit=as_the_file_says",
                api.shop.side
            ),
            square,
        )
        .await;
    assert_eq!(
        (kit.status, kit.body["pieces"].as_array().map(Vec::len)),
        (200, Some(2)),
        "{}",
        kit.body
    );
    // What could be added can be edited: a drawing of many points goes back and forth whole.
    let points: String = (0..12_000)
        .map(|n| {
            let a = f64::from(n) / 12_000.0 * std::f64::consts::TAU;
            format!(
                "L{:.4} {:.4}",
                400.0 * a.cos(),
                400.0 * a.sin() * (1.0 + 0.05 * (a * 40.0).sin())
            )
        })
        .collect();
    let file = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"900mm\" viewBox=\"-450 -450 900 900\"><path d=\"M400 0{points}Z\"/></svg>"
    );
    let kit = api
        .raw(
            &format!(
                "/api/sides/{}/kit-file?unit=as_the_file_says",
                api.shop.side
            ),
            file.as_bytes(),
        )
        .await;
    let spec = kit.body["pieces"][0]["piece"].clone();
    assert!(
        spec.to_string().len() > 300_000,
        "larger than the limit of other bodies"
    );
    let piece = api.piece(spec.clone()).await;
    let path = format!("/api/pieces/{piece}");
    assert_eq!(api.put(&path, 1, spec.clone()).await.status, 200);
    let tried = api.post(&format!("/api/sides/{}/evaluate", api.shop.side), json!({ "pieces": [{ "id": piece, "spec": spec, "nudge": { "right_mm": 10.0, "down_mm": 0.0 } }] })).await;
    assert_eq!(tried.status, 200, "{}", tried.body);
}

#[rocket::async_test]
async fn more_than_can_be_worked_out_is_refused_with_how_much_may_be() {
    let api = Api::start().await;
    let at = api.shop.side;
    // Twelve lines of round letters with outline and shadow.
    let mut spec = lettering(
        &["OYSTER & 0123456789 QUICK SAGES&"; 12].join("\n"),
        "2",
        "4",
        "4",
    );
    spec["art"]["typeface"] = json!("bitter");
    spec["art"]["outline"] = json!({ "out_mm": 2.0, "colour": "#000000" });
    spec["art"]["shadow"] = json!({ "right_mm": 2.0, "down_mm": 2.0, "colour": "#111111" });
    let heavy = json!({ "pieces": [{ "id": Uuid::now_v7(), "spec": spec }] });
    let answer = api.post(&format!("/api/sides/{at}/evaluate"), heavy).await;
    assert_eq!(answer.status, 200);
    let told = answer.body["failed"][0]["problem"]["detail"]
        .as_str()
        .unwrap();
    assert!(told.contains("60000 is the most"), "{told}");
    // One piece named three thousand times moves once.
    let piece = api.piece(lettering("TERN", "12", "48", "27 3/4")).await;
    let window = json!({ "along_mm": 50.0, "down_mm": 50.0 });
    let once = api
        .post(
            &format!("/api/sides/{at}/spots"),
            json!({ "pieces": [piece], "window": window }),
        )
        .await;
    let often = api
        .post(
            &format!("/api/sides/{at}/spots"),
            json!({ "pieces": vec![piece.clone(); 3000], "window": window }),
        )
        .await;
    assert_eq!((once.status, &once.body), (often.status, &often.body));
}

/// The program itself, serving.
pub struct Served {
    child: Child,
    port: u16,
}

impl Drop for Served {
    fn drop(&mut self) {
        let _ = self.child.kill();
        let _ = self.child.wait();
    }
}

impl Served {
    /// The program itself, as the launcher starts it.
    pub fn start(cluster: &Cluster) -> Served {
        let port = TcpListener::bind("127.0.0.1:0")
            .unwrap()
            .local_addr()
            .unwrap()
            .port();
        let web = std::env::temp_dir().join(format!("windrift-web-{}", Uuid::now_v7()));
        std::fs::create_dir(&web).unwrap();
        std::fs::write(web.join("index.html"), "<!doctype html>").unwrap();
        let child = Command::new(env!("CARGO_BIN_EXE_windrift-server-tested"))
            .arg("serve")
            .env("WINDRIFT_DATABASE_URL", &cluster.app_url)
            .env("WINDRIFT_PORT", port.to_string())
            .env("WINDRIFT_WEB", &web)
            .stderr(Stdio::piped())
            .spawn()
            .unwrap();
        Served { child, port }
    }

    pub fn connect(&self) -> TcpStream {
        for _ in 0..300 {
            if let Ok(stream) = TcpStream::connect(("127.0.0.1", self.port)) {
                stream
                    .set_read_timeout(Some(Duration::from_secs(60)))
                    .unwrap();
                return stream;
            }
            std::thread::sleep(Duration::from_millis(100));
        }
        panic!("the server does not listen");
    }

    pub fn ask(&self, method: &str, path: &str, headers: &str, body: &str) -> (u16, String) {
        let mut stream = self.connect();
        let request = format!(
            "{method} {path} HTTP/1.1\r\nHost: 127.0.0.1:{}\r\nConnection: close\r\n{headers}Content-Length: {}\r\n\r\n{body}",
            self.port,
            body.len()
        );
        stream.write_all(request.as_bytes()).unwrap();
        let mut answer = Vec::new();
        let _ = stream.read_to_end(&mut answer);
        let answer = String::from_utf8_lossy(&answer).into_owned();
        let status = answer
            .split(' ')
            .nth(1)
            .and_then(|s| s.parse().ok())
            .unwrap_or(0);
        (
            status,
            answer
                .split_once("\r\n\r\n")
                .map(|(_, b)| b.to_owned())
                .unwrap_or_default(),
        )
    }

    /// Asks it to stop, as Ctrl-C does, and answers what it said meanwhile and whether it ended well.
    fn stop(mut self) -> (bool, String) {
        Command::new("kill")
            .args(["-TERM", &self.child.id().to_string()])
            .status()
            .unwrap();
        let ended = self.child.wait().unwrap().success();
        let mut said = String::new();
        self.child
            .stderr
            .take()
            .unwrap()
            .read_to_string(&mut said)
            .unwrap();
        (ended, said)
    }
}

/// A side that takes a while: many rivets, and lettering of many points.
fn heavy(piece: usize) -> String {
    let mut spec = lettering(&["QUICK OYSTER & 0123456789"; 6].join("\n"), "4", "10", "4");
    spec["art"]["typeface"] = json!("bitter");
    spec["art"]["colour"] = json!(format!("#{:06x}", piece));
    spec["art"]["outline"] = json!({ "out_mm": 2.0 + piece as f64 * 0.001, "colour": "#000000" });
    json!({ "pieces": [{ "id": Uuid::now_v7(), "spec": spec }] }).to_string()
}

#[rocket::async_test]
async fn nobodys_many_keep_another_ones_one_waiting() {
    let cluster = Cluster::start().await;
    let shop = small_shop(&cluster.store().await).await;
    let served = std::sync::Arc::new(Served::start(&cluster));
    served.connect();
    let order = std::sync::Arc::new(std::sync::Mutex::new(Vec::new()));
    let path = format!("/api/sides/{}/evaluate", shop.side);
    let json = "Content-Type: application/json\r\n";
    let token = token_of(&cluster.store().await, &shop.crew).await;
    let cookie = format!("Cookie: windrift={token}\r\n");
    let mut threads = Vec::new();
    for n in 0..24 {
        let (served, order, path) = (served.clone(), order.clone(), path.clone());
        let cookie = cookie.clone();
        threads.push(std::thread::spawn(move || {
            let status = served
                .ask(
                    "POST",
                    &path,
                    &format!("{json}{cookie}Crew-Id: {}\r\n", shop.crew[0]),
                    &heavy(n),
                )
                .0;
            assert!(matches!(status, 200 | 503), "{status}");
            order.lock().unwrap().push("heavy");
        }));
    }
    // They are all there.
    std::thread::sleep(Duration::from_millis(300));
    assert_eq!(served.ask("GET", "/api/health", "", "").0, 200);
    let one = json!({ "pieces": [{ "id": Uuid::now_v7(), "spec": lettering("TERN", "12", "48", "27 3/4") }] });
    let (status, body) = served.ask(
        "POST",
        &path,
        &format!("{json}{cookie}Crew-Id: {}\r\n", shop.crew[1]),
        &one.to_string(),
    );
    assert_eq!(status, 200, "{body}");
    order.lock().unwrap().push("another");
    for thread in threads {
        thread.join().unwrap();
    }
    let order = order.lock().unwrap();
    let place = order.iter().position(|who| *who == "another").unwrap();
    assert!(place < 20, "answered as number {place} of {}", order.len());
}

#[rocket::async_test]
async fn a_server_waits_for_postgresql_and_answers_before_it_stops() {
    let cluster = Cluster::alone().await;
    let shop = small_shop(&cluster.store().await).await;
    cluster.stop();
    let mut served = Served::start(&cluster);
    std::thread::sleep(Duration::from_millis(1500));
    assert!(served.child.try_wait().unwrap().is_none(), "it waits");
    cluster.start_again();
    served.connect();
    assert_eq!(served.ask("GET", "/api/health", "", "").0, 200);
    // Stopped while it works: what was asked is answered.
    let port = served.port;
    let path = format!("/api/sides/{}/evaluate", shop.side);
    let body = heavy(7);
    let token = token_of(&cluster.store().await, &shop.crew).await;
    let mut stream = served.connect();
    let request = format!(
        "POST {path} HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\nCookie: windrift={token}\r\nCrew-Id: {}\r\nContent-Type: application/json\r\nConnection: close\r\nContent-Length: {}\r\n\r\n{body}",
        shop.crew[0],
        body.len()
    );
    stream.write_all(request.as_bytes()).unwrap();
    std::thread::sleep(Duration::from_millis(150));
    let (ended, said) = served.stop();
    let mut answer = String::new();
    let _ = stream.read_to_string(&mut answer);
    assert!(
        answer.starts_with("HTTP/1.1 200"),
        "{}",
        &answer[..answer.len().min(200)]
    );
    assert!(ended && !said.contains("panicked"), "{said}");
}

#[rocket::async_test]
async fn connections_that_say_nothing_are_closed() {
    let cluster = Cluster::start().await;
    small_shop(&cluster.store().await).await;
    let served = Served::start(&cluster);
    let mut slow: Vec<TcpStream> = (0..40).map(|_| served.connect()).collect();
    for stream in &mut slow {
        stream
            .write_all(b"GET /api/health HTTP/1.1\r\nHost: 127")
            .unwrap();
    }
    assert_eq!(
        served.ask("GET", "/api/health", "", "").0,
        200,
        "others are answered meanwhile"
    );
    for stream in &mut slow {
        // Closed by the door: the read ends, well before its own limit.
        let mut rest = Vec::new();
        stream.read_to_end(&mut rest).unwrap();
    }
    let (_, said) = served.stop();
    assert!(!said.contains("panicked"), "{said}");
}
