//! A bay sensor and a thermometer behind the heat that are none: they ship with the application, send what real ones would by the same road, and can be told to
//! misbehave.

use std::fmt::Write as _;
use std::io::{Read, Write};
use std::net::{Ipv4Addr, SocketAddr, TcpStream};
use std::thread::sleep;
use std::time::{Duration, Instant};

use serde_json::{Value, json};
use time::OffsetDateTime;
use time::format_description::well_known::Rfc3339;
use uuid::Uuid;

/// What a stand-in is.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Kind {
    /// It hangs in a bay.
    Sensor,
    /// It is held behind the heat.
    Thermometer,
}

impl Kind {
    /// What it is called in the list of devices.
    fn name(self) -> &'static str {
        match self {
            Kind::Sensor => "stand-in",
            Kind::Thermometer => "stand-in thermometer",
        }
    }

    fn reads(self) -> &'static str {
        match self {
            Kind::Sensor => "air",
            Kind::Thermometer => "heat",
        }
    }

    fn path(self) -> &'static str {
        match self {
            Kind::Sensor => "/api/readings",
            Kind::Thermometer => "/api/heat-readings",
        }
    }

    /// How often it reads, unless it is told otherwise.
    fn every(self) -> Duration {
        match self {
            Kind::Sensor => Duration::from_secs(10),
            Kind::Thermometer => Duration::from_millis(100),
        }
    }

    /// It is silent after so many readings, where it is told to be.
    fn silent_after(self) -> u64 {
        match self {
            Kind::Sensor => 6,
            Kind::Thermometer => 200,
        }
    }
}

/// How it misbehaves.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Misbehaves {
    /// It does not.
    No,
    /// It stops sending after a minute; a thermometer after 20 s.
    Silence,
    /// It drifts by a degree a minute; a thermometer by ten.
    Drift,
    /// It sends figures that jump about.
    Nonsense,
    /// Its clock is an hour ahead.
    Clock,
    /// A thermometer over bright metal: it shows the hall more than the panel.
    Bright,
}

/// What it was told on the command line.
struct Told {
    kind: Kind,
    port: u16,
    bay: String,
    key: Option<String>,
    every: Option<Duration>,
    misbehaves: Misbehaves,
}

/// Sends readings to the server on this machine until it is stopped.
///
/// Errors: a word that it does not know; no server; a refusal. In a sentence.
pub fn sensor(arguments: &[&str], port: u16) -> Result<(), String> {
    let told = told(arguments, port)?;
    let key = match &told.key {
        Some(key) => key.clone(),
        None => made_key(&told)?,
    };
    let every = told.every.unwrap_or(told.kind.every());
    let silent_after = told.kind.silent_after();
    println!(
        "windrift: a {} reads in {} every {} s. Ctrl-C stops it.",
        match told.kind {
            Kind::Sensor => "stand-in sensor",
            Kind::Thermometer => Kind::Thermometer.name(),
        },
        told.bay,
        every.as_secs_f64()
    );
    let began = Instant::now();
    for n in 0u64.. {
        if told.misbehaves == Misbehaves::Silence && n == silent_after {
            println!("windrift: the stand-in is silent from now on.");
        }
        if !(told.misbehaves == Misbehaves::Silence && n >= silent_after) {
            let reading = match told.kind {
                Kind::Sensor => reads(n, began.elapsed(), told.misbehaves),
                Kind::Thermometer => shows(n, began.elapsed(), told.misbehaves),
            };
            let body = json!({ "readings": [reading] });
            let headers = [("Device-Key", key.as_str())];
            if let Err(sentence) = ask(told.port, "POST", told.kind.path(), &headers, Some(&body)) {
                // A sensor goes on whatever it is told.
                println!("windrift: {sentence}");
            }
        }
        sleep(every);
    }
    Ok(())
}

/// A key of its own, in the made-up shop, where anybody signs in as the lead.
fn made_key(told: &Told) -> Result<String, String> {
    let own =
        "In a shop of your own make its key under Prep, Bay, Sensors, and start it with --key KEY.";
    let door = ask(told.port, "GET", "/api/door", &[], None)?;
    let crew = door["crew"].as_array().into_iter().flatten();
    let lead = crew
        .filter(|c| c["role"] == "lead")
        .find_map(|c| c["name"].as_str())
        .ok_or(own)?
        .to_owned();
    let body = json!({ "name": lead, "device": "stand-in sensor" });
    let cookie = answered(told.port, "POST", "/api/sign-in", &[], Some(&body))?.1;
    let as_lead = [("Cookie", cookie.as_str())];
    // One stand-in a bay: what an earlier one left is withdrawn.
    let devices = ask(told.port, "GET", "/api/devices", &as_lead, None)?;
    for d in devices.as_array().into_iter().flatten() {
        if d["name"] == told.kind.name() && d["bay"] == told.bay.as_str() && d["withdrawn"] == false
        {
            let path = format!(
                "/api/devices/{}/withdraw",
                d["id"].as_str().unwrap_or_default()
            );
            ask(told.port, "POST", &path, &as_lead, None)?;
        }
    }
    let new = json!({ "id": Uuid::now_v7(), "bay": told.bay, "name": told.kind.name(), "reads": told.kind.reads() });
    let made = ask(told.port, "POST", "/api/devices", &as_lead, Some(&new))?;
    // It needs nobody from here on.
    let _ = ask(
        told.port,
        "POST",
        "/api/sign-out",
        &as_lead,
        Some(&json!({})),
    );
    Ok(made["key"].as_str().unwrap_or_default().to_owned())
}

fn told(arguments: &[&str], port: u16) -> Result<Told, String> {
    let mut told = Told {
        kind: Kind::Sensor,
        port,
        bay: "Bay 2".into(),
        key: None,
        every: None,
        misbehaves: Misbehaves::No,
    };
    let mut rest = arguments.iter();
    while let Some(word) = rest.next() {
        let mut value = || {
            rest.next()
                .ok_or(format!("{word} wants something after it."))
        };
        match *word {
            "--bay" => told.bay = (*value()?).into(),
            "--key" => told.key = Some((*value()?).into()),
            "--every" => {
                let seconds: f64 = value()?
                    .parse()
                    .map_err(|_| "--every wants seconds, such as 10.".to_owned())?;
                if !(0.05..=3600.0).contains(&seconds) {
                    return Err("--every wants from 0.05 to 3600 seconds.".into());
                }
                told.every = Some(Duration::from_secs_f64(seconds));
            }
            "--thermometer" => told.kind = Kind::Thermometer,
            "--bright" => told.misbehaves = Misbehaves::Bright,
            "--silence" => told.misbehaves = Misbehaves::Silence,
            "--drift" => told.misbehaves = Misbehaves::Drift,
            "--nonsense" => told.misbehaves = Misbehaves::Nonsense,
            "--clock" => told.misbehaves = Misbehaves::Clock,
            _ => {
                return Err(format!(
                    "{word} is nothing that the stand-in knows. It knows --thermometer, --bay NAME, --key KEY, --every SECONDS, --silence, --drift, --nonsense, --clock and --bright."
                ));
            }
        }
    }
    Ok(told)
}

/// What it reads: a hall at 21 °C that breathes a little, and a panel that warms up in it.
fn reads(n: u64, since: Duration, misbehaves: Misbehaves) -> Value {
    let minutes = since.as_secs_f64() / 60.0;
    let mut celsius = 21.0 + 0.3 * (minutes / 9.0).sin();
    let mut humidity = 46.0 + 2.0 * (minutes / 13.0).cos();
    // A body that follows the hall in hours, a skin that is mostly hall: what a panel of a cold truck does.
    let body = 21.0 - 7.0 * (-minutes / 150.0).exp();
    let mut surface = 0.7 * celsius + 0.3 * body - 4.0 * (-minutes / 60.0).exp();
    let mut at = OffsetDateTime::now_utc();
    match misbehaves {
        Misbehaves::No | Misbehaves::Silence | Misbehaves::Bright => {}
        Misbehaves::Drift => celsius += minutes,
        Misbehaves::Nonsense => {
            celsius = [21.0, 58.0, -38.0, 3.0][(n % 4) as usize];
            humidity = [46.0, 99.0, 2.0, 140.0][(n % 4) as usize];
            surface = [20.0, 88.0, -30.0, 400.0][(n % 4) as usize];
        }
        Misbehaves::Clock => at += time::Duration::hours(1),
    }
    json!({
        "at": at.format(&Rfc3339).unwrap_or_default(),
        "celsius": celsius,
        "humidity": humidity,
        "surface": surface,
    })
}

/// What a thermometer shows behind a gun that somebody walks well, but for a cold spot in every 40 s.
fn shows(n: u64, since: Duration, misbehaves: Misbehaves) -> Value {
    let seconds = since.as_secs_f64();
    let mut at = OffsetDateTime::now_utc();
    let walked = if seconds % 40.0 < 37.0 { 88.5 } else { 74.0 };
    let shown = walked + 1.5 * (seconds / 7.0).sin() + 0.4 * (seconds * 3.0).sin();
    let celsius = match misbehaves {
        Misbehaves::No | Misbehaves::Silence => shown,
        Misbehaves::Drift => shown + seconds / 6.0,
        Misbehaves::Nonsense => [shown, 299.0, -19.0, 390.0][(n % 4) as usize],
        Misbehaves::Clock => {
            at += time::Duration::hours(1);
            shown
        }
        Misbehaves::Bright => 0.1 * shown + 0.9 * 21.0,
    };
    json!({ "at": at.format(&Rfc3339).unwrap_or_default(), "celsius": (celsius * 10.0).round() / 10.0 })
}

/// One request to the server on this machine, over a connection of its own.
fn ask(
    port: u16,
    method: &str,
    path: &str,
    headers: &[(&str, &str)],
    body: Option<&Value>,
) -> Result<Value, String> {
    Ok(answered(port, method, path, headers, body)?.0)
}

/// The same with the cookie that came along.
fn answered(
    port: u16,
    method: &str,
    path: &str,
    headers: &[(&str, &str)],
    body: Option<&Value>,
) -> Result<(Value, String), String> {
    let away = |e: std::io::Error| {
        format!("No Windrift answers on port {port}: {e}. Start it with ./windrift demo.")
    };
    let mut stream =
        TcpStream::connect(SocketAddr::from((Ipv4Addr::LOCALHOST, port))).map_err(away)?;
    stream
        .set_read_timeout(Some(Duration::from_secs(20)))
        .map_err(away)?;
    let body = body.map(Value::to_string).unwrap_or_default();
    let mut head = format!(
        "{method} {path} HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\nConnection: close\r\nContent-Length: {}\r\n",
        body.len()
    );
    if !body.is_empty() {
        head += "Content-Type: application/json\r\n";
    }
    for (name, value) in headers {
        let _ = write!(head, "{name}: {value}\r\n");
    }
    head += "\r\n";
    stream.write_all(head.as_bytes()).map_err(away)?;
    stream.write_all(body.as_bytes()).map_err(away)?;
    let mut answer = Vec::new();
    stream.read_to_end(&mut answer).map_err(away)?;
    let answer = String::from_utf8_lossy(&answer);
    let (head, body) = answer.split_once("\r\n\r\n").unwrap_or((&answer, ""));
    let value: Value = serde_json::from_str(body).unwrap_or(Value::Null);
    let status = head.split_whitespace().nth(1).unwrap_or("0");
    if status.starts_with('2') {
        let cookie = head.lines().find_map(|line| {
            let (name, set) = line.split_once(':')?;
            let is_cookie = name.eq_ignore_ascii_case("set-cookie");
            is_cookie.then(|| set.split(';').next().unwrap_or_default().trim().to_owned())
        });
        return Ok((value, cookie.unwrap_or_default()));
    }
    Err(value["detail"]
        .as_str()
        .map_or_else(|| format!("The server answered {status}."), str::to_owned))
}
