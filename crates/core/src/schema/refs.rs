//! What a table and its fields names.

use super::{FieldDef, Kind, Preset, TableDef};
use crate::{
    condition::condition_refs as condition,
    formula::formula_refs as formula,
    names::{Hold, Name, Names, See, field, maybe, option, path},
    value::{Value, value_refs as value},
};

impl Names for FieldDef {
    fn each(&mut self, see: &mut See<'_>) {
        if let Some(copies) = &mut self.copies {
            let hold = Hold::Needs("copies from it");
            field(&mut copies.link, hold, see);
            field(&mut copies.field, hold, see);
        }
        let offers = Hold::Needs("offers records by it");
        self.offers.same.retain_mut(|same| field(&mut same.theirs, offers, see) & field(&mut same.ours, offers, see));
        condition(&mut self.offers.condition, offers, see);
        maybe(&mut self.offers.named, Hold::Shows("names records by it"), see);
        if let Some(Preset::Value(preset)) = &mut self.preset {
            value(self.id, preset, Hold::Shows("begins with it"), see);
            if *preset == Value::Empty {
                self.preset = None;
            }
        }
        match &mut self.kind {
            Kind::Calculation { formula: of, .. } => formula(of, Hold::Needs("computes with it"), see),
            Kind::Summary(summary) => {
                condition(&mut summary.condition, Hold::Needs("counts by it"), see);
                path(&mut summary.links, Hold::Needs("sums it up"), see);
                maybe(&mut summary.field, Hold::Needs("sums it up"), see);
            }
            Kind::Carried { links, field: carried } => {
                path(links, Hold::Needs("carries it"), see);
                field(carried, Hold::Needs("carries it"), see);
            }
            Kind::Choice { options, on } => {
                maybe(on, Hold::Needs("offers its options by it"), see);
                for choice in options {
                    choice.under =
                        choice.under.and_then(|mut id| option(&mut id, Hold::Needs("offers options under it"), see).then_some(id));
                }
            }
            Kind::Button { automation, .. } => {
                *automation = automation.and_then(|id| match see(Name::Automation(id), Hold::Shows("runs it")) {
                    Some(Name::Automation(other)) => Some(other),
                    _ => None,
                });
            }
            // Both sides of a link are one thing: they come and go together, and neither is a use of the other.
            Kind::Link(_)
            | Kind::Text { .. }
            | Kind::LongText
            | Kind::Number { .. }
            | Kind::Money { .. }
            | Kind::Percent { .. }
            | Kind::Rating { .. }
            | Kind::YesNo
            | Kind::Date
            | Kind::DateTime
            | Kind::Range
            | Kind::Duration
            | Kind::Choices { .. }
            | Kind::Person
            | Kind::People
            | Kind::Email
            | Kind::Phone
            | Kind::Web
            | Kind::Place
            | Kind::Files
            | Kind::Checklist
            | Kind::Numbering { .. }
            | Kind::CreatedAt
            | Kind::CreatedBy
            | Kind::ChangedAt
            | Kind::ChangedBy
            | Kind::Id
            | Kind::Json => {}
        }
    }
}

impl TableDef {
    /// What the table names by itself, its fields left aside.
    pub(crate) fn each_of_its_own(&mut self, see: &mut See<'_>) {
        field(&mut self.standing, Hold::Needs("names its records by it"), see);
        maybe(&mut self.beside, Hold::Shows("tells its records apart by it"), see);
        maybe(&mut self.mine.address, Hold::Needs("knows by it whose a record is"), see);
        maybe(&mut self.mine.entered_for, Hold::Needs("knows by it whose a record is"), see);
        maybe(&mut self.mine.own, Hold::Needs("knows people by it"), see);
        self.arrangement.each(see);
        // Left out, what is said would be told to more than before: the role has to be taken out of it first.
        crate::names::kept(&mut self.talk_for, |id| match see(Name::Role(*id), Hold::Needs("tells to it what is said of its records")) {
            Some(Name::Role(other)) => {
                *id = other;
                true
            }
            _ => false,
        });
        if self.rounds.as_mut().is_some_and(|rounds| !rounds.each(see)) {
            self.rounds = None;
        }
        self.recipes.iter_mut().for_each(|recipe| recipe.each(see));
    }
}

impl Names for TableDef {
    fn each(&mut self, see: &mut See<'_>) {
        self.each_of_its_own(see);
        self.fields.iter_mut().for_each(|f| f.each(see));
    }
}
