#include "textflag.h"

// Bit n of a row stands for the upper half n of a byte; none for those from 0x80.
DATA rows<>+0(SB)/8, $0x8040201008040201
DATA rows<>+8(SB)/8, $0
GLOBL rows<>(SB), RODATA|NOPTR, $16

DATA low<>+0(SB)/8, $0x0f0f0f0f0f0f0f0f
GLOBL low<>(SB), RODATA|NOPTR, $8

DATA tab<>+0(SB)/8, $0x0909090909090909
GLOBL tab<>(SB), RODATA|NOPTR, $8

DATA return<>+0(SB)/8, $0x0d0d0d0d0d0d0d0d
GLOBL return<>(SB), RODATA|NOPTR, $8

// func markVectors(columns *[16]byte, src *byte, marks *uint64, blocks int) (tabs, returns, wide uint32)
//
// A byte is in the set where the column of its lower half has the row of its upper
// half: two look-ups for 32 bytes.
TEXT ·markVectors(SB), NOSPLIT, $0-44
	MOVQ columns+0(FP), AX
	MOVQ src+8(FP), SI
	MOVQ marks+16(FP), DI
	MOVQ blocks+24(FP), CX
	VBROADCASTI128 (AX), Y0
	VBROADCASTI128 rows<>(SB), Y1
	VPBROADCASTQ low<>(SB), Y2
	VPXOR Y3, Y3, Y3
	VPBROADCASTQ tab<>(SB), Y10
	VPBROADCASTQ return<>(SB), Y11
	VPXOR Y12, Y12, Y12 // tabs
	VPXOR Y13, Y13, Y13 // returns
	VPXOR Y14, Y14, Y14 // all bytes

block:
	VMOVDQU (SI), Y4
	VMOVDQU 32(SI), Y5
	VPCMPEQB Y4, Y10, Y6
	VPCMPEQB Y5, Y10, Y7
	VPOR Y6, Y12, Y12
	VPOR Y7, Y12, Y12
	VPCMPEQB Y4, Y11, Y6
	VPCMPEQB Y5, Y11, Y7
	VPOR Y6, Y13, Y13
	VPOR Y7, Y13, Y13
	VPOR Y4, Y14, Y14
	VPOR Y5, Y14, Y14
	VPSHUFB Y4, Y0, Y6
	VPSHUFB Y5, Y0, Y7
	VPSRLW $4, Y4, Y4
	VPSRLW $4, Y5, Y5
	VPAND Y2, Y4, Y4
	VPAND Y2, Y5, Y5
	VPSHUFB Y4, Y1, Y4
	VPSHUFB Y5, Y1, Y5
	VPAND Y6, Y4, Y4
	VPAND Y7, Y5, Y5
	VPCMPEQB Y3, Y4, Y4
	VPCMPEQB Y3, Y5, Y5
	VPMOVMSKB Y4, R8
	VPMOVMSKB Y5, R9
	SHLQ $32, R9
	ORQ R9, R8
	NOTQ R8
	MOVQ R8, (DI)
	ADDQ $64, SI
	ADDQ $8, DI
	DECQ CX
	JNZ block

	VPMOVMSKB Y12, R8
	VPMOVMSKB Y13, R9
	VPMOVMSKB Y14, R10
	MOVL R8, tabs+32(FP)
	MOVL R9, returns+36(FP)
	MOVL R10, wide+40(FP)
	VZEROUPPER
	RET
