//! Sentences in phrases, each tied to the part of the rule that it edits.

use serde::{Deserialize, Serialize};

/// A run of words in a sentence.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Phrase {
    pub text: String,
    pub tone: Tone,
    /// The place in the rule that pressing it edits, as a JSON pointer. A fault of that place has the same one, or one that goes on from it.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub at: Option<String>,
}

/// How a phrase is set.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Tone {
    Plain,
    Strong,
    /// Pressing it edits what it says.
    Edit,
    /// Not set yet; stands at the end, quieter.
    Offer,
}

/// Gathers phrases.
#[derive(Debug, Default)]
pub struct Sentence(Vec<Phrase>);

impl Sentence {
    fn push(&mut self, text: impl Into<String>, tone: Tone, at: Option<String>) {
        self.0.push(Phrase { text: text.into(), tone, at });
    }

    /// Words that only stand there.
    pub fn plain(&mut self, text: impl Into<String>) {
        self.push(text, Tone::Plain, None);
    }

    /// Words that stand out.
    pub fn strong(&mut self, text: impl Into<String>) {
        self.push(text, Tone::Strong, None);
    }

    /// Words that edit what they say.
    pub fn edit(&mut self, text: impl Into<String>, at: impl Into<String>) {
        self.push(text, Tone::Edit, Some(at.into()));
    }

    /// What is not set yet.
    pub fn offer(&mut self, text: impl Into<String>, at: impl Into<String>) {
        self.push(text, Tone::Offer, Some(at.into()));
    }

    /// The phrases gathered.
    pub fn phrases(self) -> Vec<Phrase> {
        self.0
    }
}

/// The sentence as one text, offers left out.
pub fn as_text(phrases: &[Phrase]) -> String {
    phrases.iter().filter(|p| p.tone != Tone::Offer).map(|p| p.text.as_str()).collect()
}

/// The name of many, for a noun that names one: *waymark post* gives *waymark posts*, *party* gives *parties*.
pub fn plural(one: &str) -> String {
    let vowel_before_y = one.chars().rev().nth(1).is_none_or(|c| "aeiou".contains(c.to_ascii_lowercase()));
    if one.ends_with('y') && !vowel_before_y {
        return format!("{}ies", &one[..one.len() - 1]);
    }
    if one.ends_with('s') && !one.ends_with("ss") || one.is_empty() {
        return one.to_owned();
    }
    let hisses = ["ss", "x", "ch", "sh", "z"].iter().any(|end| one.ends_with(end));
    format!("{one}{}", if hisses { "es" } else { "s" })
}

/// With a capital first letter.
pub fn capital(words: &str) -> String {
    let mut letters = words.chars();
    letters.next().map_or_else(String::new, |first| first.to_uppercase().collect::<String>() + letters.as_str())
}

/// A noun with its article: *a fault*, *an order*, *a unit*.
pub fn a_or_an(noun: &str) -> String {
    let lower = noun.to_lowercase();
    let sounds_like_you = ["uni", "use", "usu", "uti", "eu", "one", "once"].iter().any(|start| lower.starts_with(start));
    let silent = ["hour", "heir", "honest", "honour", "honor"].iter().any(|start| lower.starts_with(start));
    let vowel = silent || lower.starts_with(['a', 'e', 'i', 'o', 'u']) && (!sounds_like_you || lower.starts_with("unin"));
    format!("{} {noun}", if vowel { "an" } else { "a" })
}
