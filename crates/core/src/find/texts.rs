//! What stands in files, as it was read from them. It is no part of a dataset: reading takes its time, and what was read comes when it
//! comes; whoever looks for words brings what is known by then.

use crate::value::fold;
use memchr::memmem::Finder;
use std::{collections::HashMap, sync::Arc};

/// Longest text that is kept of one file, in characters; what stands behind is not looked for.
pub const LONGEST_TEXT: usize = 40_000;
/// How long the pieces are in which it is kept and told, in characters.
const PIECE: usize = 240;
/// Stands between two pieces. Nobody types it.
const BETWEEN: char = '\0';

/// The texts of files, by the ids of the files.
#[derive(Clone, Debug, Default)]
pub struct FileTexts(HashMap<String, Arc<FileText>>);

/// The text of one file, in pieces as they are told, and folded as words are looked for.
#[derive(Debug)]
pub struct FileText {
    pieces: Box<[Box<str>]>,
    folded: Box<str>,
}

impl FileText {
    fn of(text: &str) -> Self {
        let mut pieces = vec![String::new()];
        let mut left = LONGEST_TEXT;
        for word in text.split_whitespace().map(|word| word.replace(BETWEEN, "")) {
            let length = word.chars().count().saturating_add(1);
            let Some(rest) = left.checked_sub(length) else { break };
            left = rest;
            if pieces.last().is_some_and(|last| !last.is_empty() && last.chars().count().saturating_add(length) > PIECE) {
                pieces.push(String::new());
            }
            let Some(last) = pieces.last_mut() else { break };
            if !last.is_empty() {
                last.push(' ');
            }
            last.push_str(&word);
        }
        let folded: Vec<String> = pieces.iter().map(|piece| fold(piece).into_owned()).collect();
        let folded = folded.join(BETWEEN.encode_utf8(&mut [0; 4]));
        Self { pieces: pieces.into_iter().map(Into::into).collect(), folded: folded.into() }
    }

    /// The first piece in which a folded word stands.
    pub(super) fn piece(&self, word: &str) -> Option<&str> {
        let at = self.folded.find(word)?;
        let place = self.folded[..at].matches(BETWEEN).count();
        self.pieces.get(place).map(|piece| &**piece)
    }
}

impl FileTexts {
    /// What was read from a file; none where nobody has read it, or nothing could be.
    pub fn get(&self, id: &str) -> Option<&FileText> {
        self.0.get(id).map(|text| &**text)
    }

    /// Takes note of what stands in a file.
    pub fn learn(&mut self, id: String, text: &str) {
        self.0.insert(id, Arc::new(FileText::of(text)));
    }

    /// The files in which a folded word stands.
    pub(super) fn holding(&self, word: &str) -> Vec<&str> {
        let finder = Finder::new(word);
        let holds = |text: &FileText| finder.find(text.folded.as_bytes()).is_some();
        self.0.iter().filter(|(_, text)| holds(text)).map(|(id, _)| id.as_str()).collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_word_is_told_with_the_piece_in_which_it_stands() {
        let text = format!("{} the winch Café comes on Thursday {}", "before ".repeat(100), "after ".repeat(100));
        let text = FileText::of(&text);
        let piece = text.piece("cafe").expect("it is there");
        assert!(piece.contains("winch Café") && piece.chars().count() <= PIECE, "{piece}");
        assert!(text.piece("nowhere").is_none() && text.piece("before after").is_none(), "nothing is found across what is not beside it");
    }

    #[test]
    fn one_long_word_and_a_text_without_end_are_bounded() {
        let text = FileText::of(&format!("{} end", "x".repeat(LONGEST_TEXT * 2)));
        assert!(text.folded.is_empty(), "a word that is longer than all that is kept is not");
        let text = FileText::of(&"word ".repeat(LONGEST_TEXT));
        assert!(text.folded.len() <= LONGEST_TEXT && text.pieces.len() > 100);
        assert!(FileText::of("a\0b").piece("ab").is_some(), "what stands between pieces stands in none");
    }
}
