import * as halyardArgs from 'halyard-args';
import * as skerryLog from 'Skerry.Log';
import * as razorshellParse from 'razorshell-parse';
import * as tidewrackDiff from 'tidewrack-diff';
import * as whelkZip from 'whelk-zip';

export const parts = [halyardArgs, skerryLog, razorshellParse, tidewrackDiff, whelkZip];
