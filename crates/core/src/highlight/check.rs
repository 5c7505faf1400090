//! Whether a highlight fits the table it is of.

use super::{Highlight, Look, MOST_HIGHLIGHTS, MOST_TOUCHES, WORD_LIMIT};
use crate::{
    dataset::Dataset,
    fault::{Checked, Fault, FaultKind, Faults},
};

/// Longest name of a sign, in characters.
const SIGN_LIMIT: usize = 40;

impl Highlight {
    /// Whether everything that it names is there, and everybody can tell what it sets.
    pub(super) fn check(&self, ds: &Dataset) -> Checked<()> {
        let home = ds.table(self.table).ok_or_else(|| Fault::not_found("table"))?;
        let mut faults = Vec::new();
        if let Err(Faults(found)) = self.condition.check(ds, self.table) {
            faults.extend(found.into_iter().map(|fault| fault.at("/condition")));
        }
        if self.touches.len() > MOST_TOUCHES {
            let message = format!("One highlight touches at most {MOST_TOUCHES} things. Make another for the rest.");
            faults.push(Fault::new(FaultKind::TooLong, message).at("/touches"));
        }
        if ds.highlights_of(self.table).len() > MOST_HIGHLIGHTS {
            let message = format!("A table has at most {MOST_HIGHLIGHTS} highlights: more are told apart by nobody.");
            faults.push(Fault::new(FaultKind::TooLong, message));
        }
        for (place, touch) in self.touches.iter().enumerate() {
            if touch.fields.iter().any(|field| home.def.field(*field).is_none()) {
                let message = "This highlight touches a field that is not there any more.";
                faults.push(Fault::new(FaultKind::BadRule, message).at(format!("/touches/{place}/fields")));
            }
            if let Some((message, part)) = wrong(&touch.look) {
                faults.push(Fault::new(FaultKind::BadRule, message).at(format!("/touches/{place}/look{part}")));
            }
        }
        Faults::none_or(faults)
    }
}

/// What is wrong with a look, and where.
fn wrong(look: &Look) -> Option<(String, &'static str)> {
    if look.is_plain() {
        return Some(("It says nothing of how this looks. Choose something, or leave this out.".to_owned(), ""));
    }
    if !look.is_told_without_colour() {
        let message = "Colour alone is not seen by everybody. Choose something beside it: bold, an edge, a sign or a word.";
        return Some((message.to_owned(), ""));
    }
    if look.word.chars().count() > WORD_LIMIT {
        return Some((format!("A word before a value has at most {WORD_LIMIT} characters."), "/word"));
    }
    let known = |name: &str| {
        !name.is_empty() && name.chars().count() <= SIGN_LIMIT && name.chars().all(|letter| letter.is_ascii_lowercase() || letter == ' ')
    };
    let sign = look.sign.as_ref().filter(|sign| !known(&sign.name))?;
    Some((format!("There is no sign “{}”.", sign.name), "/sign"))
}
