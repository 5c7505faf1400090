//! A view as a part.

use super::View;
use crate::{
    access::{Asker, Lens},
    checks::check_name,
    dataset::Dataset,
    fault::{Checked, Fault, FaultKind},
    id::{PersonId, TableId, ViewId},
    part::{Part, Sort, is_part},
    rules::{Rules, Tells, builders_only, stewards_only},
    schema::TEXT_LIMIT,
};

is_part!(View, View);

impl Sort for View {
    const SORT: &'static str = "view";

    fn of(part: &Part) -> Option<&Self> {
        if let Part::View(found) = part { Some(found) } else { None }
    }

    fn number(&self) -> u32 {
        self.id.get()
    }

    fn renumber(&mut self, number: u32) {
        self.id = ViewId::new(number).unwrap_or(self.id);
    }

    fn title(&self) -> &str {
        &self.name
    }

    fn table(&self) -> Option<TableId> {
        Some(self.table)
    }
}

impl Rules for View {
    fn may_shape(&self, lens: &Lens<'_>, asker: Asker) -> Result<(), Fault> {
        match (self.owner, asker) {
            (_, _) if !lens.knows(self) => Err(Fault::not_found("view")),
            (None, _) if !self.given.is_empty() => stewards_only(lens),
            (Some(owner), Asker::Person(me)) if owner == me => Ok(()),
            (Some(_), Asker::Person(_) | Asker::StandingIn { .. } | Asker::Form(_) | Asker::Visitor { .. } | Asker::Automation(_)) => {
                Err(Fault::not_found("view"))
            }
            (Some(_), Asker::Westerfall) => Ok(()),
            (None, _) => builders_only(lens, "the team’s views. Save it as your own view instead; only they can change these"),
        }
    }

    fn may_give_way(&self, next: Option<&Self>, lens: &Lens<'_>) -> Result<(), Fault> {
        let opened = |next: &Self| View { locked: self.locked, place: self.place, ..next.clone() } == *self;
        if !next.is_some_and(opened) {
            self.stays_open()?;
        }
        if next.is_none() {
            return Ok(());
        }
        if !self.given.is_empty() {
            stewards_only(lens)?;
        }
        if self.query.condition.is_open_to(lens, self.table) {
            return Ok(());
        }
        let message =
            "This view is narrowed by something that is not open to you, so that you can’t change it. Save it as your own view instead.";
        Err(Fault::new(FaultKind::NotAllowed, message))
    }

    fn may_be_put(&self, lens: &Lens<'_>) -> Checked<()> {
        self.query.asked_by(lens, self.table).map(drop).map_err(|faults| faults.under("/query"))
    }

    fn fits(&self, _before: Option<&Self>, ds: &Dataset) -> Checked<()> {
        check_name(&self.name)?;
        if self.about.len() > TEXT_LIMIT {
            return Err(Fault::new(FaultKind::TooLong, format!("This text has at most {TEXT_LIMIT} characters.")).at("/about").into());
        }
        if self.owner.is_some() && !self.given.is_empty() {
            let message = "A view of one’s own is given to nobody. Make it the team’s first.";
            return Err(Fault::new(FaultKind::BadRule, message).into());
        }
        if self.given.keys().any(|person| ds.people.get(*person).is_none()) {
            return Err(Fault::not_found("person").into());
        }
        ds.table(self.table).ok_or_else(|| Fault::not_found("table"))?;
        self.query.check(ds, self.table).map_err(|faults| faults.under("/query"))
    }

    fn tells(&self, before: &Lens<'_>, after: &Lens<'_>) -> Tells {
        let opens = before.opens(self.table) || after.opens(self.table);
        let tells = Tells::structure_if(opens && self.owner.is_none_or(|owner| after.me() == Some(owner)));
        Tells { access: after.me().is_some_and(|me| self.given.contains_key(&me)), ..tells }
    }

    fn is_about_somebody(&self) -> bool {
        self.owner.is_some() || !self.given.is_empty()
    }

    fn packed(mut self, whole: bool) -> Option<Self> {
        if !whole {
            self.given.clear();
        }
        (whole || self.owner.is_none()).then_some(self)
    }
}

impl View {
    /// Nothing of it is changed while it is locked.
    pub(crate) fn stays_open(&self) -> Result<(), Fault> {
        if !self.locked {
            return Ok(());
        }
        let message = format!("“{}” is locked: it stays as it is. Unlock it first, or keep what you changed as another view.", self.name);
        Err(Fault::new(FaultKind::NotAllowed, message))
    }
}

impl Dataset {
    /// The views of a table: the team’s in their order, then those of single people in theirs.
    pub fn views_of(&self, table: TableId) -> Vec<&View> {
        let mut of: Vec<&View> = self.views().filter(|view| view.table == table).collect();
        of.sort_by_key(|view| (view.owner, view.place, view.id));
        of
    }

    /// The place behind all views of a table that are the team’s, or somebody’s own.
    pub fn next_view(&self, table: TableId, owner: Option<PersonId>) -> u32 {
        let last = self.views_of(table).into_iter().rfind(|view| view.owner == owner);
        last.filter(|last| last.place > 0).map_or(0, |last| last.place.saturating_add(1))
    }

    /// The views that stand elsewhere once one of them is at another place among those beside it, from 0, as they were and as
    /// they are then. The first has the place 1: one that nobody placed stands before all others.
    pub(crate) fn views_moved(&self, moved: ViewId, to: usize) -> Vec<(View, View)> {
        let Some(one) = self.view(moved) else { return Vec::new() };
        let mut list: Vec<&View> =
            self.views_of(one.table).into_iter().filter(|view| view.owner == one.owner && view.id != moved).collect();
        list.insert(to.min(list.len()), one);
        let numbered = list.into_iter().zip(1_u32..).filter(|(view, place)| view.place != *place);
        numbered.map(|(view, place)| (view.clone(), View { place, ..view.clone() })).collect()
    }

    /// The view of this number.
    pub fn view(&self, id: ViewId) -> Option<&View> {
        self.part(id.get())
    }

    /// The views that are given to somebody by themselves. Whoever has left has none.
    pub fn given_to(&self, person: PersonId) -> impl Iterator<Item = &View> {
        self.views().filter(move |view| view.given.contains_key(&person) && !self.people.has_left(person))
    }

    /// All views, by their numbers.
    pub fn views(&self) -> impl Iterator<Item = &View> {
        self.parts_of()
    }
}
