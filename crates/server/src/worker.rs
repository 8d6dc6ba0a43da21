//! Files from elsewhere are read in a process of their own, with little memory and time: whatever a file does to its reader, it does
//! it there.
//!
//! The process is this program again, called as `windrift-server read`. It takes one request on its standard input and gives one
//! answer on its standard output; between the two it can do nothing else.

use std::io::{Read, Write};
use std::path::PathBuf;
use std::process::Stdio;
use std::sync::Arc;
use std::time::Duration;

use kurbo::Point;
use rlimit::Resource;
use rocket::tokio::io::{AsyncReadExt, AsyncWriteExt};
use rocket::tokio::process::Command;
use rocket::tokio::sync::Semaphore;
use rocket::tokio::time::timeout;
use serde::{Deserialize, Serialize};
use windrift_core::art::clean::{Cleaning, DrawnAs, Island, clean};
use windrift_core::art::typeface::Typeface;
use windrift_core::ground::budget::{Budget, within};
use windrift_core::ground::outline::{Contour, Shape};
use windrift_formats::drawing::{FileUnit, Opened};
use windrift_formats::photo::Kept;
use windrift_formats::print_art::{ArtKind, TakenArt, take_art};
use windrift_formats::{drawing, photo};

use crate::problem::Problem;

/// Memory that reading one file may take, bytes.
const MEMORY: u64 = 1200 * 1024 * 1024;
/// Processor time that reading one file may take, seconds.
const SECONDS: u64 = 8;
/// How long it may take on the clock, with others at work beside it.
const PATIENCE: Duration = Duration::from_secs(20);
/// Steps of core while outlines are cleaned.
const STEPS: u64 = 300_000_000;
/// Files that are read at once.
const AT_ONCE: usize = 2;

/// What is to be read.
#[derive(Debug, Clone, Copy, Serialize, Deserialize)]
#[serde(tag = "read", rename_all = "snake_case")]
enum Asked {
    /// Outlines of an SVG or DXF file.
    Outlines { unit: FileUnit },
    /// The same as film, cleaned.
    Film { unit: FileUnit },
    /// A photo, and the longest edge that is kept of it, pixels.
    Photo { edge: u32 },
    /// Print art, and the longest edge of what is shown of it, pixels.
    Art { edge: u32 },
    /// A typeface: every letter of it is tried.
    Typeface,
}

/// A shape's contours as points.
type Flat = Vec<Vec<[f64; 2]>>;

/// What was read.
#[derive(Debug, Serialize, Deserialize)]
#[serde(tag = "was", rename_all = "snake_case")]
enum Answered {
    Outlines {
        outlines: Flat,
        not_used: Vec<String>,
    },
    Film {
        /// Each with how it was drawn.
        islands: Vec<(DrawnAs, Flat)>,
        cleaning: Cleaning,
        not_used: Vec<String>,
    },
    /// The pictures follow, the whole one first.
    Photo {
        width: u32,
        height: u32,
        whole: usize,
        small: usize,
        /// Of print art: pixels of the file itself, and what it is where it is printed as it is.
        #[serde(default)]
        art: Option<(u32, u32, Option<String>)>,
    },
    Typeface,
    /// The file is of no use: what is wrong and what to do.
    Refused {
        code: String,
        sentence: String,
    },
}

/// Film that was read from a drawing file.
#[derive(Debug, Clone)]
pub struct FilmRead {
    /// Islands of film with their holes.
    pub islands: Vec<Island>,
    /// What was cleaned.
    pub cleaning: Cleaning,
    /// What of the file was not used.
    pub not_used: Vec<String>,
}

/// Reads files in processes of their own.
#[derive(Debug, Clone)]
pub struct Worker {
    program: PathBuf,
    free: Arc<Semaphore>,
}

fn flat(contour: &Contour) -> Vec<[f64; 2]> {
    contour.iter().map(|p| [p.x, p.y]).collect()
}

fn points(flat: Vec<[f64; 2]>) -> Contour {
    flat.into_iter().map(|[x, y]| Point::new(x, y)).collect()
}

impl Worker {
    /// `program` is this program's own file.
    pub fn new(program: PathBuf) -> Worker {
        Worker {
            program,
            free: Arc::new(Semaphore::new(AT_ONCE)),
        }
    }

    /// The closed outlines of an SVG or DXF file.
    pub async fn outlines(&self, file: &[u8], unit: FileUnit) -> Result<Opened, Problem> {
        match self.ask(Asked::Outlines { unit }, file).await?.0 {
            Answered::Outlines { outlines, not_used } => Ok(Opened {
                drawn: Vec::new(),
                outlines: outlines.into_iter().map(points).collect(),
                not_used,
            }),
            _ => Err(unusable()),
        }
    }

    /// The film of an SVG or DXF file, cleaned.
    pub async fn film(&self, file: &[u8], unit: FileUnit) -> Result<FilmRead, Problem> {
        match self.ask(Asked::Film { unit }, file).await?.0 {
            Answered::Film {
                islands,
                cleaning,
                not_used,
            } => Ok(FilmRead {
                islands: islands
                    .into_iter()
                    .map(|(drawn, contours)| Island {
                        shape: Shape::new(contours.into_iter().map(points).collect()),
                        drawn,
                    })
                    .collect(),
                cleaning,
                not_used,
            }),
            _ => Err(unusable()),
        }
    }

    /// A photo as it is kept, its longest edge no longer than so many pixels.
    pub async fn photo(&self, file: &[u8], edge: u32) -> Result<Kept, Problem> {
        match self.ask(Asked::Photo { edge }, file).await? {
            (
                Answered::Photo {
                    width,
                    height,
                    whole,
                    small,
                    ..
                },
                pictures,
            ) if pictures.len() == whole + small => {
                let (jpeg, small) = pictures.split_at(whole);
                Ok(Kept {
                    width,
                    height,
                    jpeg: jpeg.to_vec(),
                    small: small.to_vec(),
                })
            }
            _ => Err(unusable()),
        }
    }

    /// Print art: what is shown of it, the longest edge no longer than so many pixels, and what it is.
    pub async fn art(&self, file: &[u8], edge: u32) -> Result<TakenArt, Problem> {
        match self.ask(Asked::Art { edge }, file).await? {
            (
                Answered::Photo {
                    width,
                    height,
                    whole,
                    small,
                    art: Some((across, down, kind)),
                },
                pictures,
            ) if pictures.len() == whole + small => {
                let (jpeg, small) = pictures.split_at(whole);
                Ok(TakenArt {
                    shown: Kept {
                        width,
                        height,
                        jpeg: jpeg.to_vec(),
                        small: small.to_vec(),
                    },
                    size: (across, down),
                    kind: kind.as_deref().and_then(ArtKind::of_word),
                })
            }
            _ => Err(unusable()),
        }
    }

    /// Tries every letter of a typeface.
    pub async fn typeface(&self, file: &[u8]) -> Result<(), Problem> {
        self.ask(Asked::Typeface, file).await.map(|_| ())
    }

    async fn ask(&self, asked: Asked, file: &[u8]) -> Result<(Answered, Vec<u8>), Problem> {
        let _turn = self.free.acquire().await.map_err(|_| unusable())?;
        let done = timeout(PATIENCE, self.call(asked, file)).await;
        let answer = done.ok().flatten().ok_or_else(unusable)?;
        let cut = answer
            .iter()
            .position(|b| *b == b'\n')
            .ok_or_else(unusable)?;
        let (first, rest) = answer.split_at(cut);
        let answered: Answered = serde_json::from_slice(first).map_err(|_| unusable())?;
        match answered {
            Answered::Refused { code, sentence } => Err(Problem::input(&code, sentence)),
            answered => Ok((answered, rest.get(1..).unwrap_or_default().to_vec())),
        }
    }

    /// Everything that the process says, or nothing where it ended badly.
    async fn call(&self, asked: Asked, file: &[u8]) -> Option<Vec<u8>> {
        let mut child = Command::new(&self.program)
            .arg("read")
            .env_clear()
            .stdin(Stdio::piped())
            .stdout(Stdio::piped())
            .stderr(Stdio::null())
            .kill_on_drop(true)
            .spawn()
            .inspect_err(|error| tracing::error!(%error, "the reader of files"))
            .ok()?;
        let mut input = child.stdin.take()?;
        let mut output = child.stdout.take()?;
        let mut head = serde_json::to_vec(&asked).ok()?;
        head.push(b'\n');
        let give = async {
            // A reader that has ended takes no more: what it answered counts.
            let _ = input.write_all(&head).await;
            let _ = input.write_all(file).await;
            let _ = input.shutdown().await;
            drop(input);
        };
        let mut answer = Vec::new();
        let take = output.read_to_end(&mut answer);
        let ((), taken) = rocket::tokio::join!(give, take);
        taken.ok()?;
        child.wait().await.ok()?.success().then_some(answer)
    }
}

/// What is said of a file that broke its reader.
fn unusable() -> Problem {
    Problem::input(
        "file_too_heavy",
        "This file asks for more than Windrift gives one file, or it is damaged. Simplify it in the program that it comes from, or save it again, then choose it anew.",
    )
}

/// What the process of its own does: reads one request, answers it, ends. Returns whether it could.
pub fn main() -> bool {
    // From here on more than this ends the process, and nothing else.
    let limited = rlimit::setrlimit(Resource::AS, MEMORY, MEMORY)
        .and_then(|()| rlimit::setrlimit(Resource::CPU, SECONDS, SECONDS))
        .and_then(|()| rlimit::setrlimit(Resource::CORE, 0, 0));
    let mut input = Vec::new();
    if limited.is_err() || std::io::stdin().read_to_end(&mut input).is_err() {
        return false;
    }
    let Some(cut) = input.iter().position(|b| *b == b'\n') else {
        return false;
    };
    let (head, file) = (&input[..cut], &input[cut + 1..]);
    let Ok(asked) = serde_json::from_slice::<Asked>(head) else {
        return false;
    };
    let (answered, pictures) = read(asked, file).unwrap_or_else(|(code, sentence)| {
        let code = code.to_owned();
        (Answered::Refused { code, sentence }, Vec::new())
    });
    let mut out = std::io::stdout().lock();
    let Ok(mut line) = serde_json::to_vec(&answered) else {
        return false;
    };
    line.push(b'\n');
    out.write_all(&line)
        .and_then(|()| out.write_all(&pictures))
        .and_then(|()| out.flush())
        .is_ok()
}

type Refusal = (&'static str, String);

fn read(asked: Asked, file: &[u8]) -> Result<(Answered, Vec<u8>), Refusal> {
    let none = Vec::new();
    match asked {
        Asked::Outlines { unit } => {
            let opened = open(file, unit)?;
            let answered = Answered::Outlines {
                outlines: opened.outlines.iter().map(flat).collect(),
                not_used: opened.not_used,
            };
            Ok((answered, none))
        }
        Asked::Film { unit } => {
            let opened = open(file, unit)?;
            let cleaned = within(Budget::of_steps(STEPS), || {
                clean(&opened.outlines, &opened.drawn)
            });
            let (islands, cleaning) = cleaned.map_err(|_| {
                ("drawing", "The outlines in this file cross each other more often than can be worked with. Join them into one outline in the drawing program, or leave some out.".to_owned())
            })?;
            let answered = Answered::Film {
                islands: islands
                    .into_iter()
                    .map(|i| (i.drawn, i.shape.contours.iter().map(flat).collect()))
                    .collect(),
                cleaning,
                not_used: opened.not_used,
            };
            Ok((answered, none))
        }
        Asked::Photo { edge } => {
            let kept = photo::take(file, edge).map_err(|e| ("photo", e.to_string()))?;
            let answered = Answered::Photo {
                width: kept.width,
                height: kept.height,
                whole: kept.jpeg.len(),
                small: kept.small.len(),
                art: None,
            };
            Ok((answered, [kept.jpeg, kept.small].concat()))
        }
        Asked::Art { edge } => {
            let taken = take_art(file, edge).map_err(|e| ("photo", e.to_string()))?;
            let kept = taken.shown;
            let kind = taken.kind.map(|k| k.word().to_owned());
            let answered = Answered::Photo {
                width: kept.width,
                height: kept.height,
                whole: kept.jpeg.len(),
                small: kept.small.len(),
                art: Some((taken.size.0, taken.size.1, kind)),
            };
            Ok((answered, [kept.jpeg, kept.small].concat()))
        }
        Asked::Typeface => {
            Typeface::open("tried", "tried", file.to_vec())
                .and_then(|face| face.try_all())
                .map_err(|e| ("typeface", e.to_string()))?;
            Ok((Answered::Typeface, none))
        }
    }
}

fn open(file: &[u8], unit: FileUnit) -> Result<Opened, Refusal> {
    drawing::open::open(file, unit).map_err(|e| ("outline_file", e.to_string()))
}
