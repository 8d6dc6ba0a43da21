//! Names that are told apart.

/// The name, or `door 2` where there is a door.
pub fn another_name(name: &str, taken: &[String]) -> String {
    let numbered = (2..=taken.len() + 1).map(|n| format!("{name} {n}"));
    let mut names = std::iter::once(name.to_owned()).chain(numbered);
    names
        .find(|n| !taken.contains(n))
        .unwrap_or_else(|| name.to_owned())
}
