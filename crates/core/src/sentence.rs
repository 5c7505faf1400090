//! Sentences in phrases, each tied to the part of the rule that it edits.

use serde::{Deserialize, Serialize};

/// A run of words in a sentence.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Phrase {
    pub text: String,
    pub tone: Tone,
    /// What pressing it edits.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub node: Option<Node>,
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

/// The part of a rule that a phrase stands for.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(tag = "part", rename_all = "lowercase")]
pub enum Node {
    /// A condition, by the places on the way to it from the outermost.
    Condition {
        path: Vec<usize>,
    },
    Group,
    Sort {
        place: usize,
    },
    Fields,
    /// An automation's step or occasion, by its place.
    Step {
        place: usize,
    },
    When,
}

/// Gathers phrases.
#[derive(Debug, Default)]
pub struct Sentence(Vec<Phrase>);

impl Sentence {
    fn push(&mut self, text: impl Into<String>, tone: Tone, node: Option<Node>) {
        self.0.push(Phrase { text: text.into(), tone, node });
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
    pub fn edit(&mut self, text: impl Into<String>, node: Node) {
        self.push(text, Tone::Edit, Some(node));
    }

    /// What is not set yet.
    pub fn offer(&mut self, text: impl Into<String>, node: Node) {
        self.push(text, Tone::Offer, Some(node));
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

/// So many of something: *1 fault*, *3 faults*.
pub fn count_words(count: usize, one: &str, many: &str) -> String {
    if count == 1 { format!("1 {one}") } else { format!("{count} {many}") }
}

/// A noun with its article: *a fault*, *an order*, *a unit*.
pub fn a_or_an(noun: &str) -> String {
    let lower = noun.to_lowercase();
    let sounds_like_you = ["uni", "use", "usu", "uti", "eu", "one", "once"].iter().any(|start| lower.starts_with(start));
    let silent = ["hour", "heir", "honest", "honour", "honor"].iter().any(|start| lower.starts_with(start));
    let vowel = silent || lower.starts_with(['a', 'e', 'i', 'o', 'u']) && (!sounds_like_you || lower.starts_with("unin"));
    format!("{} {noun}", if vowel { "an" } else { "a" })
}
