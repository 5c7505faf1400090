//! What is the same in the description of every address: how it refuses.

use utoipa::openapi::{
    Content, OpenApi, Ref, RefOr,
    path::Operation,
    response::{Response, ResponseBuilder},
    schema::{AdditionalProperties, Schema, SchemaType, Type},
};

/// Statuses with which any address may refuse, and what they mean.
const REFUSALS: [(&str, &str); 13] = [
    ("400", "What was sent can’t be read."),
    ("401", "Nobody is signed in."),
    ("403", "It is not open to whoever asks."),
    ("404", "There is no such thing, or it is not open to whoever asks."),
    ("405", "The address can’t be used like that."),
    ("409", "It clashes with what stands there now, or something else needs it."),
    ("410", "The form takes no answers now."),
    ("413", "It is more than can be sent at once."),
    ("415", "It is of a type that is not taken."),
    ("422", "It does not fit; each fault says where and why."),
    ("429", "It is asked too often; Retry-After says when it may be asked again."),
    ("500", "Something went wrong on our side."),
    ("503", "Too much is going on, or the database does not answer; Retry-After says when to try again."),
];

/// Completes an operation: its refusals as problem documents, and a description of every answer.
pub(super) fn complete(operation: &mut Operation) {
    // Named after our functions, of which many are called `list` or `save`; method and path name them better.
    operation.operation_id = None;
    let responses = &mut operation.responses.responses;
    responses.remove("4XX");
    for (status, meaning) in REFUSALS {
        responses.insert(status.to_owned(), RefOr::T(problem(meaning)));
    }
    for (status, response) in responses.iter_mut() {
        if let RefOr::T(response) = response
            && response.description.is_empty()
        {
            response.description = if status == "204" { "Done." } else { "The answer." }.to_owned();
        }
    }
}

fn problem(meaning: &str) -> Response {
    let body = Content::new(Some(RefOr::Ref(Ref::from_schema_name("ProblemBody"))));
    ResponseBuilder::new().description(meaning).content("application/problem+json", body).build()
}

/// Keys of JSON objects are texts, whatever they name.
pub(super) fn keys_are_text(api: &mut OpenApi) {
    let Some(components) = &mut api.components else { return };
    components.schemas.values_mut().for_each(text_keys);
    for item in api.paths.paths.values_mut() {
        let operations = [&mut item.get, &mut item.post, &mut item.put, &mut item.patch, &mut item.delete];
        for operation in operations.into_iter().flatten() {
            if let Some(RefOr::T(body)) = &mut operation.request_body {
                let contents = body.content.values_mut();
                contents.filter_map(|c| if let RefOr::T(content) = c { content.schema.as_mut() } else { None }).for_each(text_keys);
            }
        }
    }
}

fn text_keys(schema: &mut RefOr<Schema>) {
    let RefOr::T(schema) = schema else { return };
    match schema {
        Schema::Object(object) => {
            if let Some(names) = &mut object.property_names
                && let Schema::Object(name) = &mut **names
            {
                name.schema_type = SchemaType::Type(Type::String);
                name.format = None;
                name.minimum = None;
                name.pattern = Some("^[1-9][0-9]{0,9}$".to_owned());
            }
            object.properties.values_mut().for_each(text_keys);
            if let Some(more) = &mut object.additional_properties
                && let AdditionalProperties::RefOr(inner) = &mut **more
            {
                text_keys(inner);
            }
        }
        Schema::OneOf(of) => of.items.iter_mut().for_each(text_keys),
        Schema::AllOf(of) => of.items.iter_mut().for_each(text_keys),
        Schema::AnyOf(of) => of.items.iter_mut().for_each(text_keys),
        _ => {}
    }
}
