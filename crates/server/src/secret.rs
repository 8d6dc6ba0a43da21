//! Passphrases and PINs: what makes one good enough, how it is kept (argon2id, RFC 9106), and how guesses are slowed.

use argon2::Argon2;
use argon2::password_hash::rand_core::OsRng;
use argon2::password_hash::{PasswordHash, PasswordHasher, PasswordVerifier, SaltString};
use rocket::http::Status;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;
use windrift_store::sign_in::Wrong;

use crate::desk::Desk;
use crate::problem::Problem;

/// Fewest characters of a passphrase: NIST SP 800-63B asks for eight at least and for no mixture of kinds; from memory.
const SHORTEST: usize = 10;
/// Most characters: what a hand types, not a file.
const LONGEST: usize = 200;
/// Digits of a PIN.
const PIN_DIGITS: std::ops::RangeInclusive<usize> = 4..=8;
/// Wrong passphrases under one name before it takes longer.
const FREE_BY_NAME: u64 = 5;
/// Wrong tries from one machine before it takes longer: a whole shop may sit behind one address.
const FREE_BY_ADDRESS: u64 = 20;
/// Wrong PINs of one person on one device until their passphrase is wanted there.
const PIN_TRIES: u64 = 10;
/// Longest that somebody waits between two tries.
const LONGEST_WAIT: Duration = Duration::seconds(60);
/// Wrong tries are remembered for so long; wrong PINs for a day.
const REMEMBERED: Duration = Duration::minutes(15);
const PIN_REMEMBERED: Duration = Duration::hours(24);

/// What passphrases are made of that are tried first, from memory; a list of leaked ones is longer, and none ships with this.
const TRIED_FIRST: [&str; 31] = [
    "password",
    "passphrase",
    "passwort",
    "secret",
    "welcome",
    "letmein",
    "changeme",
    "default",
    "administrator",
    "admin",
    "login",
    "iloveyou",
    "football",
    "baseball",
    "dragon",
    "monkey",
    "sunshine",
    "princess",
    "master",
    "shadow",
    "michael",
    "qwertyuiop",
    "qwerty",
    "qwertz",
    "azerty",
    "asdfghjkl",
    "asdfgh",
    "zxcvbnm",
    "abcdefghij",
    "windrift",
    "correcthorsebatterystaple",
];

/// Whether a passphrase is among those that are tried first: one or more of the words above, or the own name, with nothing but figures, marks and runs of digits besides.
/// NIST SP 800-63B asks that what is commonly used is refused; from memory.
fn tried_first(text: &str, name: &str) -> bool {
    // As it is usually disguised: 0 for o, 1 for l or i, 3 for e, @ for a, $ and 5 for s.
    let plain = |ones: char| -> String {
        (text.to_lowercase().chars())
            .map(|c| match c {
                '0' => 'o',
                '1' | '!' => ones,
                '3' => 'e',
                '4' | '@' => 'a',
                '5' | '$' => 's',
                '7' => 't',
                c => c,
            })
            .collect()
    };
    let name = name.to_lowercase();
    let mut words: Vec<&str> = TRIED_FIRST.to_vec();
    words.extend(name.split_whitespace().filter(|w| w.chars().count() >= 3));
    // The longest first, so that what is part of another is not left over.
    words.sort_by_key(|w| std::cmp::Reverse(w.len()));
    let left = |mut text: String| {
        text.retain(|c| !c.is_whitespace());
        for word in &words {
            text = text.replace(word, "");
        }
        text.chars().filter(|c| c.is_alphabetic()).count()
    };
    // Once as typed, where figures are figures, and twice as disguised, where they are letters.
    [text.to_lowercase(), plain('l'), plain('i')]
        .into_iter()
        .any(|text| left(text) <= 2)
}

/// A passphrase that somebody wants to have, where it is good enough.
///
/// Errors: too short or long; among the first that are tried; the name itself; the same few characters over and over.
pub fn good_passphrase(text: &str, name: &str) -> Result<(), Problem> {
    let refuse = |says: &str| Err(Problem::input("passphrase", says).at("/passphrase"));
    let n = text.chars().count();
    if n < SHORTEST {
        return refuse(
            "A passphrase has at least 10 characters. Three or four words that belong to nobody are easy to keep.",
        );
    }
    if n > LONGEST {
        return refuse("A passphrase has at most 200 characters.");
    }
    if tried_first(text, name) {
        return refuse(
            "That is one of the first that are tried. Take three or four words that have nothing to do with each other.",
        );
    }
    let few: std::collections::BTreeSet<char> = text.chars().collect();
    if few.len() < 4 {
        return refuse("That is the same few characters over and over. Take some words instead.");
    }
    if text
        .to_lowercase()
        .replace(name.to_lowercase().as_str(), "")
        .chars()
        .count()
        < 6
    {
        return refuse("That is little more than the name itself. Take some words instead.");
    }
    Ok(())
}

/// A PIN that somebody wants to have, where it is good enough.
///
/// Errors: no digits, too few or too many; all the same; one after the other.
pub fn good_pin(text: &str) -> Result<(), Problem> {
    let refuse = |says: &str| Err(Problem::input("pin", says).at("/pin"));
    let digits: Vec<i32> = text
        .chars()
        .filter_map(|c| c.to_digit(10))
        .map(|d| d as i32)
        .collect();
    if digits.len() != text.chars().count() || !PIN_DIGITS.contains(&digits.len()) {
        return refuse("A PIN has from 4 to 8 digits and nothing else.");
    }
    let steps: std::collections::BTreeSet<i32> = digits.windows(2).map(|w| w[1] - w[0]).collect();
    if steps.len() == 1 && steps.iter().all(|s| s.abs() <= 1) {
        return refuse("Digits in a row, or all the same, are tried first. Take others.");
    }
    Ok(())
}

/// A secret as it is kept. Takes some hundredths of a second and 19 MiB, which is the point of it.
///
/// Errors: no randomness to be had.
pub fn kept(secret: &str) -> Result<String, Problem> {
    let salt = SaltString::generate(&mut OsRng);
    Argon2::default()
        .hash_password(secret.as_bytes(), &salt)
        .map(|hash| hash.to_string())
        .map_err(|error| {
            tracing::error!(%error, "hashing");
            Problem::new(
                Status::InternalServerError,
                "internal",
                "This could not be kept just now. Try it once more.",
            )
        })
}

/// Whether a secret is the one that was kept.
pub fn fits(secret: &str, hash: &str) -> bool {
    PasswordHash::new(hash).is_ok_and(|hash| {
        Argon2::default()
            .verify_password(secret.as_bytes(), &hash)
            .is_ok()
    })
}

/// A hash that nothing fits: a name that is not here takes as long as one that is.
pub const NOBODYS: &str = "$argon2id$v=19$m=19456,t=2,p=1$bm9ib2R5IGlzIGhlcmU$AAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA";

/// How long the next try must wait after the last wrong one, by how many there were: not at all at first, then twice as long each time.
pub fn wait(times: u64, free: u64) -> Duration {
    match times.checked_sub(free) {
        None => Duration::ZERO,
        Some(more) => LONGEST_WAIT.min(Duration::seconds(
            2i64.saturating_pow(more.min(8) as u32 + 1),
        )),
    }
}

/// One try to show that somebody is themselves: written down before it is looked at.
pub struct Try<'a> {
    desk: &'a Desk,
    id: Uuid,
}

impl<'a> Try<'a> {
    /// Begins a try with a passphrase under this name.
    ///
    /// Errors: too many wrong ones just now; how long to wait.
    pub async fn of_passphrase(desk: &'a Desk, name: &str) -> Result<Try<'a>, Problem> {
        let (this, of_name, of_address) =
            Try::begin(desk, &format!("name {}", name.to_lowercase()), REMEMBERED).await?;
        let waits = [(of_name, FREE_BY_NAME), (of_address, FREE_BY_ADDRESS)];
        this.or_wait(&waits).await
    }

    /// Begins a try with a PIN, or with a passphrase in its place, of somebody on a device. Whether a PIN still counts there.
    ///
    /// Errors: too many wrong ones just now.
    pub async fn on_device(
        desk: &'a Desk,
        session: Uuid,
        who: Uuid,
    ) -> Result<(Try<'a>, bool), Problem> {
        let (this, of_name, of_address) =
            Try::begin(desk, &format!("device {session} {who}"), PIN_REMEMBERED).await?;
        let pin_counts = of_name.times < PIN_TRIES;
        let waits = [(of_name, FREE_BY_NAME), (of_address, FREE_BY_ADDRESS)];
        Ok((this.or_wait(&waits).await?, pin_counts))
    }

    async fn begin(
        desk: &'a Desk,
        name: &str,
        remembered: Duration,
    ) -> Result<(Try<'a>, Wrong, Wrong), Problem> {
        let id = Uuid::now_v7();
        let address = desk.address();
        desk.try_begins(id, name, &address).await?;
        let since = OffsetDateTime::now_utc() - remembered;
        let (of_name, of_address) = desk.wrong_tries(id, name, &address, since).await?;
        Ok((Try { desk, id }, of_name, of_address))
    }

    async fn or_wait(self, waits: &[(Wrong, u64)]) -> Result<Try<'a>, Problem> {
        let now = OffsetDateTime::now_utc();
        let left = waits
            .iter()
            .filter_map(|(wrong, free)| Some(wrong.last? + wait(wrong.times, *free) - now))
            .max()
            .unwrap_or(Duration::ZERO);
        if left <= Duration::ZERO {
            return Ok(self);
        }
        // What is not looked at does not make the next one wait longer.
        self.desk.forget_try(self.id).await?;
        Err(Problem::new(
            Status::TooManyRequests,
            "slow_down",
            format!(
                "That was wrong too often. Wait {} s, then try once more.",
                left.whole_seconds() + 1
            ),
        ))
    }

    /// It was right.
    pub async fn right(self) -> Result<(), Problem> {
        Ok(self.desk.try_was_right(self.id).await?)
    }
}
