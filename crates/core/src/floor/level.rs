//! Levelling a piece that hangs by two tapes: from what was read at both flats, which tape to move, which way and how much.
//!
//! Each move is an exact rotation about the tape that holds; any tape between the two is freed first. Distances run in the
//! datum's own frame: back along it, down square to it.

use serde::{Deserialize, Serialize};
use thiserror::Error;

use crate::ground::tape::{Length, MM_PER_INCH, Unit, print, print_move};
use crate::ground::told::{Told, first_capital};
use crate::plan::planned::PlannedPiece;

/// A reading farther than this from what is wanted is probably misread: 3/4 in (common practice, no source).
const MISREAD_BEYOND_MM: f64 = 0.75 * MM_PER_INCH;
/// A reading this near to a whole inch out was probably read from the wrong inch: 1/16 in.
const NEAR_WHOLE_INCH_MM: f64 = MM_PER_INCH / 16.0;
/// A piece that hangs this much out of level would be seen from across the yard: the readings contradict each other.
const STEEPEST_SLOPE: f64 = 0.1;
/// Two readings of one flat with nothing moved between them agree within this.
const SAME_READING_MM: f64 = MM_PER_INCH / 16.0;

/// One end of the piece.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum End {
    /// Nearer the vehicle's front.
    Front,
    /// Nearer its rear.
    Rear,
}

impl End {
    fn index(self) -> usize {
        match self {
            End::Front => 0,
            End::Rear => 1,
        }
    }

    fn other(self) -> End {
        match self {
            End::Front => End::Rear,
            End::Rear => End::Front,
        }
    }
}

/// Which way a tape moves.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Way {
    /// Towards the datum.
    Up,
    /// Away from the datum.
    Down,
}

/// What is to be levelled: two flats and two tapes, the one nearer the front first. Points are (back, down) in mm.
#[derive(Debug, Clone, PartialEq)]
pub struct Hanging {
    /// The flats where they should be; `down` is what the tape should read.
    pub flats: [(f64, f64); 2],
    /// The tapes where they hold when the piece is right.
    pub tapes: [(f64, f64); 2],
    /// What its ends are called: `front` and `rear`, `street` and `curb`.
    pub ends: [String; 2],
}

impl Hanging {
    /// What hangs of a planned piece. Wanted readings are the printed ones: what the screen asks for is what is levelled to.
    pub fn of(piece: &PlannedPiece) -> Hanging {
        let flats = &piece.readings.flats;
        Hanging {
            flats: [&flats.front, &flats.rear].map(|f| (f.back_mm, f.wanted.mm)),
            tapes: piece.hinge.holds.map(|h| (h.back_mm, h.down_mm)),
            ends: flats.ends.clone(),
        }
    }

    fn called(&self, end: End) -> &str {
        &self.ends[end.index()]
    }
}

/// What was read at both flats, and what is known from the round before.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct RoundOfReadings {
    /// Read at the front and the rear flat, mm.
    pub read_mm: [f64; 2],
    /// The readings that were asked for again because they looked misread, mm. The same figure twice is believed.
    pub asked_again_mm: Option<[f64; 2]>,
    /// Rounds of moves made before these readings. What those moves must have left narrows what a coarse mark can mean.
    pub rounds_moved: u32,
}

/// One move of one tape.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
pub struct TapeMove {
    /// The tape that moves; the other holds.
    pub tape: End,
    /// Which way.
    pub way: Way,
    /// How far, printed.
    pub amount: Length,
    /// What both flats will read after this move, the front one first.
    pub then_reads: [Length; 2],
}

/// What to do after a round of readings.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "schema", derive(utoipa::ToSchema))]
#[serde(tag = "do", rename_all = "snake_case")]
pub enum Advice {
    /// A reading looks misread: read again before anything is moved.
    ReadAgain {
        /// The ends to read again.
        ends: Vec<End>,
        /// What to say across the shop.
        sentence: String,
    },
    /// Move one tape, or one and then the other.
    Move {
        /// Moves in order.
        moves: Vec<TapeMove>,
        /// What to say across the shop.
        sentence: String,
    },
    /// Both ends are inside tolerance: lock the hinge.
    Lock {
        /// What to say across the shop.
        sentence: String,
    },
}

impl Advice {
    /// What to say across the shop.
    pub fn sentence(&self) -> &str {
        match self {
            Advice::ReadAgain { sentence, .. }
            | Advice::Move { sentence, .. }
            | Advice::Lock { sentence } => sentence,
        }
    }
}

/// Readings that cannot both be right.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum LevelError {
    /// The slope that they imply is not possible.
    #[error(
        "These two readings cannot both be right: {first} and {second} would hang the piece out of level by {slope}. Read both again; nothing has been moved."
    )]
    TooSteep {
        /// Read at the first flat, printed, and where that is.
        first: String,
        /// Read at the second.
        second: String,
        /// Difference over the piece, printed.
        slope: String,
    },
    /// The same flat was read twice, differently.
    #[error(
        "The two readings of the {end} flat contradict each other: {before}, then {now}, and nothing was moved. Read it once more."
    )]
    Disagree {
        /// Which flat.
        end: String,
        /// Read first, printed.
        before: String,
        /// Read now, printed.
        now: String,
    },
}

impl From<LevelError> for Told {
    fn from(error: LevelError) -> Told {
        Told::new("readings_contradict", error.to_string())
    }
}

/// Whether a reading is probably misread: more than 3/4 in out, or within 1/16 of a whole inch out.
pub fn looks_misread(read_mm: f64, wanted_mm: f64) -> bool {
    (read_mm - wanted_mm).abs() > MISREAD_BEYOND_MM + 1e-6
        || whole_inches_out(read_mm, wanted_mm).is_some()
}

fn whole_inches_out(read_mm: f64, wanted_mm: f64) -> Option<i64> {
    let out = (read_mm - wanted_mm) / MM_PER_INCH;
    let whole = out.round();
    (whole != 0.0 && (out - whole).abs() * MM_PER_INCH <= NEAR_WHOLE_INCH_MM + 1e-9)
        .then_some(whole as i64)
}

/// Says what to do after a round of readings: read again, move tapes, or lock.
///
/// Errors: readings that contradict each other. Nothing is to be moved then.
///
/// ```
/// # use windrift_core::{floor::level::{Advice, Hanging, RoundOfReadings, advise}, ground::tape::Unit};
/// // Both flats are to read 24 in, 18 in and 8 ft back; tapes hold a little outside.
/// let hanging = Hanging { flats: [(457.2, 609.6), (2438.4, 609.6)], tapes: [(400.0, 560.0), (2500.0, 560.0)], ends: ["front", "rear"].map(Into::into) };
/// let read = |read_mm| RoundOfReadings { read_mm, asked_again_mm: None, rounds_moved: 0 };
/// let Ok(Advice::Move { moves, .. }) = advise(&hanging, &read([609.6, 611.1875]), Unit::InchSixteenth) else { panic!() };
/// assert!(!moves.is_empty());
/// // Read right at both ends: lock.
/// assert!(matches!(advise(&hanging, &read([609.6, 609.6]), Unit::InchSixteenth), Ok(Advice::Lock { .. })));
/// ```
pub fn advise(
    hanging: &Hanging,
    round: &RoundOfReadings,
    unit: Unit,
) -> Result<Advice, LevelError> {
    let wanted = hanging.flats.map(|f| f.1);
    let mut doubtful = Vec::new();
    for end in [End::Front, End::Rear] {
        let n = end.index();
        let (read, want) = (round.read_mm[n], wanted[n]);
        let before = round
            .asked_again_mm
            .map(|r| r[n])
            .filter(|before| looks_misread(*before, want));
        match before {
            Some(before) if (before - read).abs() <= SAME_READING_MM => {} // twice the same: believed
            Some(before) if looks_misread(read, want) => {
                return Err(LevelError::Disagree {
                    end: hanging.called(end).to_owned(),
                    before: print(before, unit).text,
                    now: print(read, unit).text,
                });
            }
            Some(_) => {} // read right this time
            None if looks_misread(read, want) => doubtful.push(end),
            None => {}
        }
    }
    if !doubtful.is_empty() {
        let sentence = read_again_sentence(hanging, &doubtful, round, unit);
        return Ok(Advice::ReadAgain {
            ends: doubtful,
            sentence,
        });
    }
    let errors: [f64; 2] = std::array::from_fn(|n| round.read_mm[n] - wanted[n]);
    if errors.iter().all(|e| e.abs() <= unit.tolerance_mm() + 1e-6) {
        return Ok(Advice::Lock {
            sentence: "Both ends read right. Lock the hinge.".into(),
        });
    }
    let apart = (hanging.flats[1].0 - hanging.flats[0].0).abs();
    if (errors[1] - errors[0]).abs() > STEEPEST_SLOPE * apart {
        let [first, second] = [End::Front, End::Rear].map(|end| {
            let read = print(round.read_mm[end.index()], unit).text;
            format!("{read} at the {}", hanging.called(end))
        });
        return Err(LevelError::TooSteep {
            first,
            second,
            slope: print((errors[1] - errors[0]).abs(), unit).text,
        });
    }
    let believed = believed_errors(errors, round.rounds_moved, unit);
    let reads = std::array::from_fn(|n| wanted[n] + believed[n]);
    Ok(move_advice(hanging, reads, round.rounds_moved, unit))
}

fn read_again_sentence(
    hanging: &Hanging,
    ends: &[End],
    round: &RoundOfReadings,
    unit: Unit,
) -> String {
    let [end] = ends else {
        return "Both readings are far from what is wanted. Read both again before moving anything.".into();
    };
    let (read, want) = (round.read_mm[end.index()], hanging.flats[end.index()].1);
    let reason = match whole_inches_out(read, want) {
        Some(n) if n.abs() == 1 => "a whole inch out".to_owned(),
        Some(n) => format!("{} whole inches out", n.abs()),
        None => format!("{} out", print((read - want).abs(), unit).text),
    };
    format!(
        "{} at the {} flat is {reason}, probably misread. Read it again before moving anything.",
        print(read, unit).text,
        hanging.called(*end)
    )
}

/// What the readings most likely mean. A tape is read to the nearest mark, so a reading stands for an error anywhere within half
/// a mark. After a round of moves the error can only be what reading and moving left over; where the two ranges meet only in
/// part, the middle of that part is believed.
fn believed_errors(errors: [f64; 2], rounds_moved: u32, unit: Unit) -> [f64; 2] {
    if rounds_moved == 0 {
        return errors;
    }
    let half_mark = unit.mark_mm() / 2.0;
    let left_over = half_mark + 2.0 * MM_PER_INCH / 64.0;
    errors.map(|error| {
        let (low, high) = (
            (error - half_mark).max(-left_over),
            (error + half_mark).min(left_over),
        );
        // Ranges that only touch meet in that point, however the last bits of the figures fall.
        if low <= high + 1e-6 {
            (low + high) / 2.0
        } else {
            error
        }
    })
}

type Point = (f64, f64);

fn turned(point: Point, about: Point, angle: f64) -> Point {
    let (sine, cosine) = angle.sin_cos();
    let (x, y) = (point.0 - about.0, point.1 - about.1);
    (
        about.0 + x * cosine - y * sine,
        about.1 + x * sine + y * cosine,
    )
}

/// The piece as it hangs, from what reads at its two flats: flats and tapes in the datum's frame.
///
/// Where along the datum it hangs does not change what reads square to it, so the front flat is taken to be where it should be.
fn as_it_hangs(hanging: &Hanging, reads: [f64; 2]) -> Option<(End2, End2)> {
    let [front, rear] = hanging.flats;
    let (run, rise) = (rear.0 - front.0, rear.1 - front.1);
    let apart = run.hypot(rise);
    let sine = (reads[1] - reads[0]) / apart;
    if !(-1.0..=1.0).contains(&sine) {
        return None;
    }
    let turn = sine.asin() - (rise / apart).asin();
    let shift = reads[0] - front.1;
    let hangs = |p: Point| {
        let p = turned(p, front, turn);
        (p.0, p.1 + shift)
    };
    Some((hanging.flats.map(hangs), hanging.tapes.map(hangs)))
}

type End2 = [Point; 2];

fn move_advice(hanging: &Hanging, reads: [f64; 2], rounds_moved: u32, unit: Unit) -> Advice {
    let Some((mut flats, mut tapes)) = as_it_hangs(hanging, reads) else {
        return Advice::ReadAgain {
            ends: vec![End::Front, End::Rear],
            sentence: "These readings do not fit the piece. Read both again.".into(),
        };
    };
    let need = even(std::array::from_fn(|n| hanging.tapes[n].1 - tapes[n].1));
    let order = if need[1].abs() >= need[0].abs() {
        [End::Rear, End::Front]
    } else {
        [End::Front, End::Rear]
    };
    let mut moves = Vec::new();
    for end in order {
        let (moving, holding) = (end.index(), 1 - end.index());
        let amount = rounded_move(need[moving], rounds_moved, unit);
        if amount.mm <= 0.0 {
            continue;
        }
        let down = amount.mm.copysign(need[moving]);
        let about = tapes[holding];
        let (run, rise) = (tapes[moving].0 - about.0, tapes[moving].1 - about.1);
        let length = run.hypot(rise);
        // The angle whose rotation about the holding tape brings the moving tape to its height, exactly.
        let from = (rise / length).clamp(-1.0, 1.0).asin();
        let to = ((rise + down) / length).clamp(-1.0, 1.0).asin();
        let angle = if run >= 0.0 { to - from } else { from - to };
        flats = flats.map(|p| turned(p, about, angle));
        tapes = tapes.map(|p| turned(p, about, angle));
        moves.push(TapeMove {
            tape: end,
            way: if down < 0.0 { Way::Up } else { Way::Down },
            amount,
            then_reads: flats.map(|p| print(p.1, unit)),
        });
    }
    let sentence = move_sentence(hanging, &moves, unit);
    Advice::Move { moves, sentence }
}

/// Moves that differ by less than anybody can move a tape are one move, so that what is rounded afterwards does not hang on the last bit of a
/// rotation: a piece that is as much too low at both ends is brought up as much at both.
fn even(need: [f64; 2]) -> [f64; 2] {
    /// A tenth of the finest move that is told, mm.
    const HAIR_MM: f64 = 0.04;
    let middle = (need[0] + need[1]) / 2.0;
    let need = if (need[0] - need[1]).abs() <= HAIR_MM {
        [middle; 2]
    } else {
        need
    };
    // To a millionth, in which every 64th of an inch is exact: halves of a mark are halves again, and are rounded as such.
    need.map(|mm| (mm * 1e6).round() / 1e6)
}

/// A first move is told to 1/32 in; a later one, which clears up what the first left, to 1/64.
fn rounded_move(mm: f64, rounds_moved: u32, unit: Unit) -> Length {
    if rounds_moved == 0 || unit == Unit::Millimetre {
        return print_move(mm, unit);
    }
    crate::ground::tape::print_sixty_fourths(mm.abs())
}

fn move_sentence(hanging: &Hanging, moves: &[TapeMove], unit: Unit) -> String {
    let way = |m: &TapeMove| if m.way == Way::Up { "up" } else { "down" };
    let amount = |m: &TapeMove| match of_marks(m.amount.mm, unit) {
        Some(marks) => format!("{}, {marks}", m.amount.text),
        None => m.amount.text.clone(),
    };
    let first_word = |end| first_capital(hanging.called(end));
    match moves {
        [] => "Both ends are within a hair of right. Read both again.".into(),
        [one] => format!(
            "{} tape {} {}. {} stays put. Read both again.",
            first_word(one.tape),
            way(one),
            amount(one),
            first_word(one.tape.other())
        ),
        [first, second, ..] => format!(
            "{} tape {} {}, then {} tape {} {}. Read both again.",
            first_word(first.tape),
            way(first),
            amount(first),
            hanging.called(second.tape),
            way(second),
            amount(second)
        ),
    }
}

/// How much of the tape's marks an amount is that is finer than they are: nobody finds 3/64 on a tape of sixteenths, anybody
/// finds three quarters of a mark.
fn of_marks(mm: f64, unit: Unit) -> Option<String> {
    let quarters = (4.0 * mm / unit.mark_mm()).round() as u64;
    let part = match quarters % 4 {
        1 => "a quarter",
        2 => "a half",
        3 => "three quarters",
        _ => return None,
    };
    Some(match quarters / 4 {
        0 if quarters == 2 => "half a mark".into(),
        0 => format!("{part} of a mark"),
        1 => format!("one mark and {part}"),
        whole => format!("{whole} marks and {part}"),
    })
}
