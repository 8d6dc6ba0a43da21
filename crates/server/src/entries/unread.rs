//! Words for what cannot be read, and for what somebody typed.

/// What stands for an entry that cannot be put into words: the value as it is kept.
pub fn cannot_be_read(kept: &serde_json::Value) -> String {
    let kept: String = kept.to_string().chars().take(200).collect();
    format!("An entry that this Windrift cannot read. It is kept as {kept}")
}

/// Ends with a full stop, whatever somebody typed.
pub fn sentence(text: String) -> String {
    let text = text.trim_end();
    if text.ends_with(['.', '!', '?']) {
        text.to_owned()
    } else {
        format!("{text}.")
    }
}
