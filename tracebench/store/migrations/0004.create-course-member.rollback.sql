DROP TABLE course_member;
