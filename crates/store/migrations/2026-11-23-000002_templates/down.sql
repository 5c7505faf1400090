DROP TABLE visit; DROP TABLE template;
